import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ByteDictionary, hashOf } from '../../../src/core/table/byte-dictionary';
import { MessageTable } from '../../../src/core/table/message-table';
import type { Verdict } from '../../../src/core/table/row-verdicts';
import { CONSENTS, MARKS, type Consent } from '../../../src/core/table/message-kinds';
import { RowReader } from '../../../src/core/table/row-reader';
import { refKey } from '../../../src/core/plan/property-path';
import { draws } from '../../build/draws';

interface Row {
  readonly name: string;
  readonly identify: boolean;
  readonly body: string;
  readonly findings: string;
}

/** Lays the fields of a row out as a database would send them: each after its length, with other bytes behind. */
const laidOut = (texts: readonly string[]): { bytes: Buffer; view: DataView; at: Int32Array } => {
  const parts = texts.map((t) => Buffer.from(t, 'utf8'));
  const lengthOf = (p: Buffer): Buffer => {
    const length = Buffer.alloc(4);
    length.writeInt32BE(p.length);
    return length;
  };
  const bytes = Buffer.concat([...parts.flatMap((p) => [lengthOf(p), p]), Buffer.from('"\\{}')]);
  const at = new Int32Array(parts.length * 2);
  let i = 0;
  parts.forEach((p, k) => {
    at[2 * k] = i += 4;
    at[2 * k + 1] = i += p.length;
  });
  return { bytes, view: new DataView(bytes.buffer, bytes.byteOffset, bytes.length), at };
};

const fields = (v: unknown): Record<string, unknown> =>
  typeof v === 'object' && v !== null && !Array.isArray(v) ? (v as Record<string, unknown>) : {};

const byBytes = (rows: readonly Row[]): MessageTable => {
  const table = new MessageTable();
  let bytes = Buffer.alloc(0) as Buffer;
  const reader = new RowReader(table, (from, to) => bytes.toString('utf8', from, to));
  rows.forEach((r, i) => {
    const l = laidOut(['web', r.identify ? 'identify' : 'event', r.name, '1.0', r.body, r.findings]);
    bytes = l.bytes;
    reader.read(l.view, l.at, i + 1, i * 1000, i * 1000 + 7);
  });
  return table;
};

const byParsing = (rows: readonly Row[]): MessageTable => {
  const table = new MessageTable();
  rows.forEach((r, i) => {
    const body = JSON.parse(r.body) as Record<string, unknown>;
    table.append(
      {
        seq: i + 1,
        kind: r.identify ? 'identify' : 'event',
        name: r.name,
        sourceId: 'web',
        release: '1.0',
        occurredAt: i * 1000,
        receivedAt: i * 1000 + 7,
        ...(typeof body['page'] === 'string' ? { page: body['page'] } : {}),
        ...(typeof body['environment'] === 'string' ? { environment: body['environment'] } : {}),
        ...(Array.isArray(body['marks']) ? { marks: MARKS.filter((m) => (body['marks'] as unknown[]).includes(m)) } : {}),
        ...(CONSENTS.some((c) => c === body['consent']) ? { consent: body['consent'] as Consent } : {}),
        ids: Object.fromEntries(
          Object.entries(fields(body['ids'])).flatMap(([k, v]) => (typeof v === 'string' || typeof v === 'number' ? [[k, String(v)]] : [])),
        ),
        properties: fields(body['properties']),
        userProperties: fields(body['user_properties']),
      },
      r.findings === '' ? [] : (JSON.parse(r.findings) as Verdict[]),
    );
  });
  return table;
};

/** All that a table says of each row. */
const said = (t: MessageTable): unknown =>
  Array.from({ length: t.length }, (_, row) => ({
    name: t.names.values[t.name.get(row)],
    time: t.time.get(row),
    received: t.received.get(row),
    page: t.page.get(row) < 0 ? '' : t.pages.values[t.page.get(row)],
    environment: t.environment.get(row) < 0 ? '' : t.environments.values[t.environment.get(row)],
    carried: [t.marks.get(row), t.consent.get(row)],
    ids: new Map([...t.ids].flatMap(([kind, c]) => (c.get(row) < 0 ? [] : [[kind, t.nodes.get(c.get(row))]]))),
    ...Object.fromEntries(
      (['properties', 'userProperties'] as const).map((of) => [
        of,
        new Map([...t[of]].flatMap(([name, c]) => (c.column.get(row) < 0 ? [] : [[refKey(name), c.values.values[c.column.get(row)]]]))),
      ]),
    ),
    crowded: [...t.crowdedNames('properties')],
    verdicts: t.verdicts.get(row),
  }));

const key = fc.oneof(
  fc.constantFrom('hall', 'weight', 'crate_id', '__proto__', 'constructor', 'a"b', 'ü', ''),
  fc.string({ maxLength: 9 }),
);
const scalar = fc.oneof(
  fc.constantFrom('', 'hall 1', 'a\\b"c', '\u2028', '😀', '\ud800', 'true', '12'),
  fc.string({ unit: 'binary', maxLength: 12 }),
  fc.integer(),
  fc.double({ noNaN: true, noDefaultInfinity: true }),
  fc.boolean(),
  fc.constant(null),
);
const object = (depth: number): fc.Arbitrary<unknown> =>
  fc.dictionary(
    key,
    depth === 0 ? scalar : fc.oneof({ weight: 2, arbitrary: scalar }, fc.array(scalar, { maxLength: 2 }), object(depth - 1)),
    {
      maxKeys: 3,
    },
  );
const value = fc.oneof({ weight: 5, arbitrary: scalar }, fc.array(scalar, { maxLength: 3 }), { weight: 2, arbitrary: object(2) });
/** The text of an object whose names may come twice. */
const objectText = fc
  .array(fc.tuple(key, value), { maxLength: 6 })
  .map((pairs) => `{${pairs.map(([k, v]) => `${JSON.stringify(k)}:${JSON.stringify(v)}`).join(',')}}`);
const part = fc.tuple(
  fc.constantFrom('ids', 'properties', 'user_properties', 'page', 'name', 'properties_', 'environment', 'marks', 'consent'),
  fc.oneof(
    { weight: 6, arbitrary: objectText },
    scalar.map((v) => JSON.stringify(v)),
    fc.constantFrom('"granted"', '"denied"', '["test"]', '["robot","internal"]', '[]', '"staging"', '["unheard"]'),
  ),
);
const compact = fc.array(part, { maxLength: 6 }).map((parts) => `{${parts.map(([k, v]) => `"${k}":${v}`).join(',')}}`);
const spaced = compact.map((text) => JSON.stringify(JSON.parse(text), null, 2));
const row = fc.record({
  name: fc.constantFrom('Crate Moved', 'Crate Viewed', 'Ü'),
  identify: fc.boolean(),
  body: fc.oneof({ weight: 4, arbitrary: compact }, spaced),
  findings: fc.constantFrom('', '[{"code":"missing","path":["properties","hall"]}]'),
});

describe('messages from bytes', () => {
  it('gives what parsing gives, whatever the body', () => {
    fc.assert(
      fc.property(fc.array(row, { maxLength: 12 }), (rows) => {
        expect(said(byBytes(rows))).toEqual(said(byParsing(rows)));
      }),
      { numRuns: draws(500, 1500), seed: 41 },
    );
  });

  it('tells runs of bytes apart whose hashes agree, and finds each again after many more', () => {
    const found = new ByteDictionary();
    const texts = Array.from({ length: 5000 }, (_, i) => `crate ${i}`);
    const put = (t: string, i: number) => {
      const { view, at } = laidOut([t]);
      // One hash for all of them in seven: the bytes themselves must decide.
      const hash = i % 7 === 0 ? 9 : hashOf(view, at[0]!, at[1]!);
      return { view, at, hash };
    };
    texts.forEach((t, i) => {
      const { view, at, hash } = put(t, i);
      expect(found.find(view, at[0]!, at[1]!, hash)).toBe(-1);
      found.add(view, at[0]!, at[1]!, hash, i);
    });
    for (const [i, t] of texts.entries()) {
      const { view, at, hash } = put(t, i);
      if (found.find(view, at[0]!, at[1]!, hash) !== i) expect.fail(`${t} is not found again`);
    }
  });
});
