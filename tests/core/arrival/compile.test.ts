import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { reconcile, prematureIn } from '../../../src/core/arrival/many/premature-trigger';
import { compileChecker } from '../../../src/core/arrival/compile';
import { readMessage } from '../../../src/core/arrival/message';
import { findingSentence } from '../../../src/core/arrival/words';
import { parseInstant } from '../../../src/core/plan/property-type';
import { deepFreeze, event, planWith, property } from '../../build/plan';
import { tableOf } from '../../build/messages';

const required = (...ids: string[]) => ids.map((propertyId) => ({ propertyId, required: true }));
const plan = deepFreeze(
  planWith([
    property('tool_id', {}),
    property('branch', { allowed: ['Quayside', 'Millrace', 'Orchard Row'] }),
    property('deposit', { type: 'integer', unit: 'minor units', min: 0, max: 50_000 }),
    event('v', { name: 'Tool Viewed', properties: [...required('tool_id', 'branch', 'deposit')] }),
    event('r', {
      name: 'Reservation Requested',
      formerNames: ['Tool Reserved'],
      counterpart: { eventName: 'Reservation Confirmed', keyProperty: 'request_id', windowMs: 60_000 },
    }),
    event('c', { name: 'Reservation Confirmed' }),
  ]),
);
const checker = compileChecker(plan);
const good = { tool_id: 'T-1', branch: 'Quayside', deposit: 2500 };
const check = (name: string, properties: Record<string, unknown>, ids: Record<string, string> = {}) =>
  checker.check({ kind: 'event', name, ids, properties }).map((f) => ({ code: f.code, path: f.path, says: findingSentence(f, name) }));

describe('checks on a message', () => {
  test('a message that keeps the plan has no finding', () => {
    expect(check('Tool Viewed', good)).toEqual([]);
  });
  test.each([
    [
      'unknown but for case',
      'Tool viewed',
      good,
      'unknown-event',
      ['name'],
      '`Tool viewed` is not in the plan; it is `Tool Viewed` but for case or spacing.',
    ],
    [
      'unknown, with the nearest',
      'Tool Viewer',
      good,
      'unknown-event',
      ['name'],
      '`Tool Viewer` is not in the plan; the nearest planned name is `Tool Viewed`.',
    ],
    [
      'missing',
      'Tool Viewed',
      { tool_id: 'T-1', branch: 'Quayside' },
      'property-missing',
      ['properties', 'deposit'],
      '`Tool Viewed` came without `deposit`, which is required.',
    ],
    [
      'a number in text',
      'Tool Viewed',
      { ...good, deposit: '2500' },
      'wrong-type',
      ['properties', 'deposit'],
      '`Tool Viewed` came with `deposit` as a number in text ("2500") where the plan says integer.',
    ],
    [
      'another type',
      'Tool Viewed',
      { ...good, tool_id: 7 },
      'wrong-type',
      ['properties', 'tool_id'],
      '`Tool Viewed` came with `tool_id` as integer (7) where the plan says string.',
    ],
    [
      'off the list',
      'Tool Viewed',
      { ...good, branch: 'Quay side' },
      'value-not-allowed',
      ['properties', 'branch'],
      '`Tool Viewed` came with `branch` = "Quay side", which is not an allowed value; the nearest is “Quayside”.',
    ],
    [
      'out of range',
      'Tool Viewed',
      { ...good, deposit: 80_000 },
      'out-of-range',
      ['properties', 'deposit'],
      '`Tool Viewed` came with `deposit` = 80000 where the plan allows 0 to 50000 minor units.',
    ],
    [
      'a placeholder',
      'Tool Viewed',
      { ...good, tool_id: '{{tool.id}}' },
      'placeholder-value',
      ['properties', 'tool_id'],
      '`Tool Viewed` came with the placeholder “{{tool.id}}” in `tool_id`.',
    ],
  ])('%s', (_, name, properties, code, path, says) => {
    expect(check(name, properties)).toEqual([{ code, path, says }]);
  });
  test('a placeholder as an identifier', () => {
    expect(check('Tool Viewed', good, { user: 'undefined' })).toMatchObject([{ code: 'placeholder-value', path: ['ids', 'user'] }]);
  });
  test('what is not planned is a note; a former name is a finding of its own', () => {
    expect(check('Tool Viewed', { ...good, deposits: 1 })).toEqual([
      {
        code: 'unplanned-property',
        path: ['properties', 'deposits'],
        says: '`Tool Viewed` came with `deposits`, which is not planned on it; the nearest planned name is `deposit`.',
      },
    ]);
    expect(check('Tool Reserved', {})).toEqual([
      {
        code: 'former-name',
        path: ['name'],
        says: '`Reservation Requested` still arrives under its former name `Tool Reserved`; it counts with it.',
      },
    ]);
  });
  test('names of object members are names like others', () => {
    for (const name of ['constructor', '__proto__', 'toString', 'hasOwnProperty'])
      expect(check(name, {})).toMatchObject([{ code: 'unknown-event' }]);
    expect(
      check(
        'Tool Viewed',
        JSON.parse('{"__proto__": 1, "constructor": 2, "tool_id": "T", "branch": "Quayside", "deposit": 1}') as Record<string, unknown>,
      ),
    ).toMatchObject([{ path: ['properties', '__proto__'] }, { path: ['properties', 'constructor'] }]);
  });
  test('a check that is switched off is silent; its severity can be changed', () => {
    const off = compileChecker(planWith([event('e', { name: 'A' })], { rules: { 'unknown-event': { off: true } } }));
    const note = compileChecker(planWith([event('e', { name: 'A' })], { rules: { 'unknown-event': { severity: 'note' } } }));
    expect(off.check({ kind: 'event', name: 'B', ids: {}, properties: {} })).toEqual([]);
    expect(note.check({ kind: 'event', name: 'B', ids: {}, properties: {} })).toMatchObject([{ severity: 'note' }]);
  });
});

test('more than thirty required properties are all looked for', () => {
  const ids = Array.from({ length: 40 }, (_, i) => `property_${String.fromCharCode(97 + (i % 26))}${i}`);
  const many = compileChecker(planWith([...ids.map((id) => property(id, {})), event('e', { name: 'A', properties: required(...ids) })]));
  fc.assert(
    fc.property(fc.subarray(ids), (present) => {
      const found = many.check({ kind: 'event', name: 'A', ids: {}, properties: Object.fromEntries(present.map((p) => [p, 'x'])) });
      expect(found.map((f) => f.path[1])).toEqual(ids.filter((id) => !present.includes(id)));
    }),
    { seed: 5, numRuns: 60 },
  );
});

test('reading never throws, and rejects or reads whatever comes', () => {
  fc.assert(
    fc.property(
      fc.jsonValue(),
      fc.record(
        { id: fc.jsonValue(), name: fc.jsonValue(), time: fc.jsonValue(), ids: fc.jsonValue(), properties: fc.jsonValue() },
        { requiredKeys: [] },
      ),
      (any, shaped) => {
        for (const v of [any, shaped]) {
          const r = readMessage(v);
          if (r.ok) checker.check(r.message);
          else expect(r.rejected.detail.length).toBeGreaterThan(10);
        }
      },
    ),
    { seed: 6, numRuns: 400 },
  );
});

test('the time of a message is RFC 3339 with a zone, on a day that exists', () => {
  // More of RFC 3339 stands in tests/outside.
  expect(parseInstant('1985-04-12T23:20:50.52Z')).toBe(482196050520);
  expect(parseInstant('1996-12-19T16:39:57-08:00')).toBe(parseInstant('1996-12-20T00:39:57Z'));
  expect(parseInstant('1937-01-01T12:00:27.87+00:20')).toBe(Date.parse('1937-01-01T11:40:27.870Z'));
  for (const bad of [
    '2022-02-30T00:00:00Z',
    '2026-03-01',
    '2026-03-01T09:30:00',
    '2026-13-01T00:00:00Z',
    '2026-03-01T24:00:00Z',
    '',
    'yesterday',
  ])
    expect(parseInstant(bad)).toBeUndefined();
});

test('the quick way of reading a time agrees with the clock of the language on every day of a century, and rejects what is not a time', () => {
  for (let day = Date.UTC(1960, 0, 1); day < Date.UTC(2060, 0, 1); day += 86_400_000 - 1)
    expect(parseInstant(new Date(day).toISOString())).toBe(day);
  for (const bad of [
    '2026-02-29T00:00:00.000Z',
    '2026-03-01T09:60:00.000Z',
    '2026-0a-01T09:30:00.000Z',
    '2026-03-01T09:30:00.00xZ',
    '2026-03-01T09:30:00.000z ',
  ])
    expect(parseInstant(bad)).toBeUndefined();
});

describe('unconfirmed attempts', () => {
  const requested = (at: number, request_id: string, release = '1') => ({
    at,
    name: 'Reservation Requested',
    ids: {},
    properties: { request_id },
    release,
  });
  const confirmed = (at: number, request_id: string) => ({ at, name: 'Reservation Confirmed', ids: {}, properties: { request_id } });
  const now = 100 * 60_000;
  test('are those whose confirmation did not come within the window, by release', () => {
    const table = tableOf([
      requested(1, 'a'),
      confirmed(1.5, 'a'),
      requested(2, 'b', '2'),
      requested(3, 'c', '2'),
      confirmed(9, 'c'),
      requested(4, 'd', '2'),
      confirmed(3.5, 'd'),
    ]);
    const groups = reconcile(plan, table, now);
    expect(groups).toMatchObject([
      { release: '1', judged: 1, unconfirmed: 0, waiting: 0 },
      { release: '2', judged: 3, unconfirmed: 2, waiting: 0, rows: [2, 3] },
    ]);
    // Two of three are too few to be sure; of thirty it is plain.
    expect(prematureIn(plan, groups)).toEqual([]);
    const many = { ...groups[1]!, judged: 30, unconfirmed: 20, attempts: 20 };
    expect(prematureIn(plan, [groups[0]!, many])).toEqual([many]);
  });
  test('whose window is open are waited for, and one lost confirmation is no premature trigger', () => {
    const table = tableOf([requested(99.5, 'a'), requested(1, 'b'), requested(2, 'c'), confirmed(2, 'c')]);
    const [g] = reconcile(plan, table, now);
    expect(g).toMatchObject({ judged: 2, unconfirmed: 1, waiting: 1 });
    expect(prematureIn(plan, [g!])).toEqual([]);
  });
});
