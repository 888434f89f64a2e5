/** Times by RFC 3339 and texts by RFC 8259, against the examples that stand in them and against a reference package. */
import Ajv from 'ajv';
import addFormats from 'ajv-formats';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { compileChecker } from '../../src/core/arrival/compile';
import { readMessage } from '../../src/core/arrival/message';
import { parseInstant } from '../../src/core/plan/property-type';
import { MessageTable } from '../../src/core/table/message-table';
import { tableMessage } from '../../src/core/arrival/history';
import { parseLine } from '../../src/server/intake-body';
import { create, event, planWith, property } from '../build/plan';

/** The examples of RFC 3339, section 5.8, with the instants that its text says they stand for. */
test.each([
  ['1985-04-12T23:20:50.52Z', '1985-04-12T23:20:50.520Z'],
  ['1996-12-19T16:39:57-08:00', '1996-12-20T00:39:57.000Z'],
  // "the leap second inserted at the end of 1990": the same instant in both, taken as the second after it.
  ['1990-12-31T23:59:60Z', '1991-01-01T00:00:00.000Z'],
  ['1990-12-31T15:59:60-08:00', '1991-01-01T00:00:00.000Z'],
  ['1937-01-01T12:00:27.87+00:20', '1937-01-01T11:40:27.870Z'],
])('RFC 3339, 5.8: %s', (text, iso) => {
  expect(new Date(parseInstant(text)!).toISOString()).toBe(iso);
});

test('RFC 3339, 5.6: letters may be small; what its grammar or its limits of 5.7 exclude is none', () => {
  expect(parseInstant('1985-04-12t23:20:50.52z')).toBe(parseInstant('1985-04-12T23:20:50.52Z'));
  for (const t of [
    '1985-04-12',
    '1985-04-12T23:20Z',
    '1985-04-12T23:20:50',
    '1985-4-12T23:20:50Z',
    '1985-04-12T24:00:00Z',
    '1985-02-29T00:00:00Z',
    '1985-04-31T00:00:00Z',
    '1985-04-12T23:20:50+0100',
    '1985-04-12T23:20:50+24:00',
    '1985-04-12T12:20:60Z',
    '+1985-04-12T23:20:50Z',
    '1985-W15-5T23:20:50Z',
  ])
    expect(parseInstant(t), t).toBeUndefined();
});

test('the same texts are times as for the package ajv-formats', () => {
  const ajv = new Ajv();
  addFormats(ajv);
  const reference = ajv.compile({ type: 'string', format: 'date-time' });
  const two = (max: number) => fc.integer({ min: 0, max }).map((n) => String(n).padStart(2, '0'));
  const zone = fc.oneof(
    fc.constantFrom('Z', 'z', ''),
    fc.tuple(fc.constantFrom('+', '-'), two(25), two(61)).map(([s, h, m]) => `${s}${h}:${m}`),
  );
  const fraction = fc.oneof(
    fc.constant(''),
    fc.nat(999_999).map((n) => `.${n}`),
  );
  fc.assert(
    fc.property(
      fc.integer({ min: 1000, max: 2999 }),
      two(13),
      two(32),
      two(25),
      two(61),
      two(59),
      fraction,
      zone,
      (y, mo, d, h, mi, s, f, z) => {
        // The package takes an hour of 24 and more where its zone turns it into the last minute of a day (ajv-formats 3); RFC 3339 has none.
        fc.pre(Number(h) < 24);
        const text = `${y}-${mo}-${d}T${h}:${mi}:${s}${f}${z}`;
        return (parseInstant(text) !== undefined) === reference(text);
      },
    ),
    { numRuns: 3000 },
  );
});

const plan = planWith([
  create('source', 's', { name: 'Hall', kind: 'web' }),
  property('size', { type: 'number', min: 0, max: 10 }),
  property('list', { type: 'list of string' }),
  event('e', {
    name: 'Lent',
    properties: [
      { propertyId: 'size', required: true },
      { propertyId: 'list', required: false },
    ],
  }),
]);
const checker = compileChecker(plan);

/** Takes a line the whole way: an answer or a reason, never an error. */
const through = (text: string): 'accepted' | 'rejected' => {
  const { value, rejected } = parseLine(text);
  if (value === undefined || rejected !== undefined) return 'rejected';
  const read = readMessage(value);
  if (!read.ok) {
    expect(read.rejected.detail.length).toBeGreaterThan(10);
    return 'rejected';
  }
  const findings = checker.check(read.message);
  for (const f of findings) expect(f.code).toMatch(/^[a-z-]+$/);
  new MessageTable().append(tableMessage(read.message, 1, 's', 0), findings);
  return 'accepted';
};
const lent = (properties: string): string =>
  `{"id":"x","name":"Lent","time":"2026-03-01T09:30:00Z","ids":{"user":"m"},"properties":${properties}}`;

describe('RFC 8259', () => {
  /** The two examples of its section 13. */
  const image = `{"Image":{"Width":800,"Height":600,"Title":"View from 15th Floor","Thumbnail":{"Url":"http://www.example.com/image/481989943","Height":125,"Width":100},"Animated":false,"IDs":[116,943,234,38793]}}`;
  const places = `[{"precision":"zip","Latitude":37.7668,"Longitude":-122.3959,"Address":"","City":"SAN FRANCISCO","State":"CA","Zip":"94107","Country":"US"},{"precision":"zip","Latitude":37.371991,"Longitude":-122.026020,"Address":"","City":"SUNNYVALE","State":"CA","Zip":"94085","Country":"US"}]`;
  test.each([
    ['13, an object', image, 'accepted'],
    ['13, an array', `{"places":${places}}`, 'accepted'],
    ['4: names that come twice', '{"size":1,"size":2}', 'accepted'],
    ['6: numbers beyond a double', '{"size":1e400,"n":-1E+2}', 'accepted'],
    ['6: a leading zero is none', '{"size":01}', 'rejected'],
    ['6: NaN is none', '{"size":NaN}', 'rejected'],
    ['8.2: a lone surrogate', '{"size":"\\uDEAD"}', 'accepted'],
    ['9: names of the language', '{"__proto__":{"a":1},"constructor":1,"toString":"x","size":1}', 'accepted'],
    ['a comma too many', '{"size":1,}', 'rejected'],
  ])('%s', (_, properties, answer) => {
    expect(through(lent(properties))).toBe(answer);
    expect(({} as Record<string, unknown>)['a']).toBeUndefined();
  });
  test('deep nesting, ten thousand properties, a value of a megabyte', () => {
    const nested = (n: number): string => lent(`{"list":${'['.repeat(n)}${']'.repeat(n)}}`);
    expect(through(nested(90))).toBe('accepted');
    expect(through(nested(5000))).toBe('rejected');
    // What was read in another way may be deeper than the stack: it is judged all the same.
    const read = readMessage(JSON.parse(nested(100_000)));
    expect(read.ok && checker.check(read.message).map((f) => f.code)).toContain('wrong-type');
    expect(through(lent(`{${Array.from({ length: 10_000 }, (_, i) => `"p${i}":${i}`).join()}}`))).toBe('accepted');
    expect(through(lent(`{"size":"${'x'.repeat(1_000_000)}"}`))).toBe('accepted');
  });
  test('whatever JSON comes, and whatever stands in the fields of a message, there is an answer or a reason', () => {
    const any = fc.jsonValue({ maxDepth: 4 });
    const field = fc.oneof(any, fc.string(), fc.constantFrom('x', 'Lent', '2026-03-01T09:30:00Z', 'identify', 'view', {}, ['robot']));
    const name = fc.constantFrom(
      'id',
      'name',
      'time',
      'kind',
      'ids',
      'properties',
      'user_properties',
      'release',
      'page',
      'marks',
      'consent',
      '__proto__',
    );
    const near = fc.dictionary(name, field).map((m) => ({ id: 'x', name: 'Lent', time: '2026-03-01T09:30:00Z', ...m }));
    fc.assert(
      fc.property(fc.oneof(any, near), (v) => {
        expect(['accepted', 'rejected']).toContain(through(JSON.stringify(v)));
      }),
      { numRuns: 2000 },
    );
  });
});

test('the forms in which most times come have the instant that the platform’s own clock says, on every day of eight centuries and at any millisecond', () => {
  for (let day = Date.UTC(1600, 0, 1); day < Date.UTC(2400, 0, 1); day += 86_400_000) {
    const iso = new Date(day).toISOString();
    if (parseInstant(iso) !== day || parseInstant(`${iso.slice(0, 19)}Z`) !== day) expect([iso, parseInstant(iso)]).toEqual([iso, day]);
  }
  const anyTime = fc.date({ min: new Date('1000-01-01T00:00:00Z'), max: new Date('9999-12-31T23:59:59.999Z'), noInvalidDate: true });
  fc.assert(
    fc.property(anyTime, (d) => {
      expect(parseInstant(d.toISOString())).toBe(d.getTime());
    }),
    { seed: 12, numRuns: 2000 },
  );
  for (const not of [
    '2026-02-29T00:00:00Z',
    '1900-02-29T00:00:00.000Z',
    '2026-13-01T00:00:00Z',
    '2026-00-10T00:00:00.000Z',
    '2026-04-31T10:00:00Z',
    '2026-04-0aT10:00:00Z',
    '2026-04-01T24:00:00.000Z',
    '2026-04-01T10:00:00.0x0Z',
  ])
    expect([not, parseInstant(not)]).toEqual([not, undefined]);
});
