/** Rows written as bytes and read again are the rows that were there, in whatever pieces and into whatever table. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { MessageTable } from '../../../src/core/table/message-table';
import { CONSENTS, MARKS } from '../../../src/core/table/message-kinds';
import { readSegment, SEGMENT_FORMAT, writeSegment } from '../../../src/core/table/segment';
import { said } from '../../build/messages';

const value = fc.oneof(
  fc.constantFrom<unknown>('', 'a', '\ud800', '😀', 'constructor', true, false, 0, 1, -1.5, 1e300, 2 ** 53),
  fc.string(),
  fc.integer(),
  fc.double({ noNaN: true, noDefaultInfinity: true }),
  fc.array(fc.integer({ max: 3 }), { maxLength: 2 }),
  fc.record({ total: fc.integer({ max: 2 }) }),
);
const name = fc.constantFrom('weight', 'constructor', '__proto__x', 'box', 'é');
const message = fc.record({
  name: fc.constantFrom('Parcel Sent', 'Letter Sent', ''),
  kind: fc.constantFrom('event' as const, 'event' as const, 'identify' as const, 'view' as const, 'interaction' as const),
  sourceId: fc.constantFrom('web', 'lab'),
  release: fc.constantFrom('', '1', '2'),
  environment: fc.option(fc.constantFrom('production', 'staging'), { nil: undefined }),
  marks: fc.option(fc.subarray([...MARKS]), { nil: undefined }),
  consent: fc.option(fc.constantFrom(...CONSENTS), { nil: undefined }),
  ids: fc.dictionary(fc.constantFrom('user', 'device', 'anonymous'), fc.oneof(fc.constantFrom('a', 'b'), fc.string()), { maxKeys: 3 }),
  properties: fc.dictionary(name, value, { maxKeys: 4 }),
  userProperties: fc.dictionary(fc.constantFrom('tier'), fc.constantFrom('gold', 7), { maxKeys: 1 }),
  page: fc.constantFrom('', '/a', '/b'),
  reusedId: fc.boolean(),
  idElsewhere: fc.boolean(),
  gap: fc.constantFrom(1, 1, 2, 3_000_000_000, 6_000_000_000),
  at: fc.oneof(fc.integer({ min: 0, max: 5_000_000 }), fc.constantFrom(-62_135_596_800_000, 253_402_300_799_999, 1.5, 0.001)),
  late: fc.nat(10_000),
});

const tableOf = (drawn: readonly (typeof message extends fc.Arbitrary<infer T> ? T : never)[]): MessageTable => {
  const table = new MessageTable();
  let seq = 0;
  for (const { gap, at, late, ...m } of drawn) table.append({ ...m, seq: (seq += gap), occurredAt: at, receivedAt: at + late });
  return table;
};
const nodesOf = (t: MessageTable) => [...t.nodes].map((n) => `${n.kind} ${n.value}`);

test('in one piece or several, after rows that came as messages or as pieces', () => {
  fc.assert(
    fc.property(fc.array(message, { maxLength: 40 }), fc.array(fc.nat(15), { maxLength: 6 }), fc.boolean(), (drawn, cuts, shifted) => {
      const whole = tableOf(drawn);
      const read = new MessageTable();
      let from = 0;
      for (const n of [...cuts, drawn.length]) {
        const to = Math.min(drawn.length, from + n);
        if (to === from) continue;
        const bytes = writeSegment(whole, from, to);
        // Where the bytes lie in memory makes no difference.
        const at = shifted ? 3 : 0;
        const laid = new Uint8Array(bytes.length + at);
        laid.set(bytes, at);
        readSegment(read, laid.subarray(at));
        from = to;
      }
      expect(said(read)).toEqual(said(whole));
      expect(nodesOf(read)).toEqual(nodesOf(whole));
      for (const set of ['reused', 'elsewhere'] as const) expect([...read[set]]).toEqual([...whole[set]]);
      for (let row = 0; row < whole.length; row++)
        expect([read.marks.get(row), read.consent.get(row), read.environments.values[read.environment.get(row)]]).toEqual([
          whole.marks.get(row),
          whole.consent.get(row),
          whole.environments.values[whole.environment.get(row)],
        ]);
      expect(read.lastSeq).toBe(whole.lastSeq);
    }),
    { seed: 3, numRuns: 800 },
  );
});

test('what is of another format is refused before anything is taken of it', () => {
  const bytes = writeSegment(tableOf([]), 0, 0);
  const text = Buffer.from(bytes)
    .toString('latin1')
    .replace(`"format":${SEGMENT_FORMAT}`, `"format":${(SEGMENT_FORMAT + 1) % 10}`);
  const table = new MessageTable();
  expect(() => readSegment(table, Buffer.from(text, 'latin1'))).toThrow('a segment of format');
  expect(table.length).toBe(0);
});
