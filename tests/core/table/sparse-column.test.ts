import fc from 'fast-check';
import { expect, test } from 'vitest';
import { IndexColumn } from '../../../src/core/table/column';
import { SparseColumn } from '../../../src/core/table/sparse-column';
import { draws } from '../../build/draws';

/** One, two and four bytes, and their borders. */
const value = fc.oneof(fc.nat(3), fc.constantFrom(-1, 126, 127, 128, 32_766, 32_767, 32_768, 2 ** 31 - 1), fc.nat(200_000));
type Write = { readonly step: number; readonly v: number; readonly again: readonly number[] };
/** Rows in their order, some left out, some set again: what a message says twice. */
const inOrder = fc.array(fc.record({ step: fc.oneof(fc.nat(3), fc.nat(300)), v: value, again: fc.array(value, { maxLength: 2 }) }), {
  maxLength: 80,
});

const written = (column: SparseColumn | IndexColumn, writes: readonly Write[]): number => {
  let row = -1;
  for (const { step, v, again } of writes) {
    row += step + 1;
    for (const w of [v, ...again.filter(() => v >= 0)]) column.set(row, w);
  }
  return row;
};

const alike = (sparse: SparseColumn, dense: IndexColumn, upTo: number): void => {
  expect(sparse.length).toBe(dense.length);
  const rows = Array.from({ length: upTo + 70 }, (_, i) => i);
  const expected = rows.map((i) => dense.get(i));
  expect(rows.map((i) => sparse.get(i))).toEqual(expected);
  // The same looked up together, backwards and with rows that come twice.
  const list = Int32Array.from([...rows.toReversed(), ...rows]);
  const of = [...expected.toReversed(), ...expected];
  const most = Math.max(...expected);
  const holds = Uint8Array.from({ length: Math.min(most, 200_001) + 2 }, (_, i) => (i % 3 === 0 ? 1 : 0));
  for (const column of [sparse, dense]) {
    const into = new Int32Array(list.length);
    column.take(list, into);
    expect([...into]).toEqual(of);
    if (most > 200_001) continue;
    const marks = column.marked(list, holds);
    expect(of.map((v, i) => ((marks[i >>> 5]! >>> (i & 31)) & 1) === holds[v + 1])).not.toContain(false);
  }
};

test('it has what a column has that keeps a place for each row, also where rows are set out of their order', () => {
  fc.assert(
    fc.property(inOrder, fc.array(fc.tuple(fc.nat(12_000), value), { maxLength: 12 }), inOrder, (writes, others, after) => {
      const [sparse, dense] = [new SparseColumn(), new IndexColumn()];
      const last = written(sparse, writes);
      written(dense, writes);
      alike(sparse, dense, last);
      const copy = sparse.copy();
      for (const [row, v] of others) {
        sparse.set(row, v);
        dense.set(row, v);
      }
      alike(sparse, dense, 12_000);
      // Whoever had a copy has what was there then, and may go on otherwise.
      const then = new IndexColumn();
      written(then, writes);
      alike(copy, then, last);
      const from = copy.length;
      for (const [i, { v }] of after.entries()) {
        copy.set(from + i, v);
        then.set(from + i, v);
      }
      alike(copy, then, from + after.length);
    }),
    { seed: 51, numRuns: draws(120, 1000) },
  );
});

test('many rows at once, each by what is known of it, beyond what lies together', () => {
  fc.assert(
    fc.property(fc.array(fc.nat(70_000), { minLength: 3, maxLength: 3 }), fc.nat(40), (known, at) => {
      const [sparse, dense] = [new SparseColumn(), new IndexColumn()];
      const places = new Int8Array(40_000).map((_, i) => (i % 7) - 1).map((p) => (p > 2 ? -1 : p));
      for (const column of [sparse, dense]) {
        column.put(at, places, known);
        column.put(at + places.length, places);
      }
      // One that keeps a place for each row ends with the rows that were looked at, this one with the last that has a number.
      dense.length = sparse.length;
      alike(sparse, dense, at + 2 * places.length);
    }),
    { seed: 52, numRuns: 6 },
  );
});

test('a row without a number takes a quarter of a byte', () => {
  const sparse = new SparseColumn();
  for (let row = 0; row < 100_000; row += 100) sparse.set(row, row % 3);
  const held = JSON.stringify(sparse, (_, v: unknown) => (ArrayBuffer.isView(v) ? v.byteLength : v));
  const bytes = held.match(/\d+/g)!.map(Number).filter((n) => n > 0 && n % 4 === 0).reduce((a, b) => a + b, 0); // prettier-ignore
  expect(bytes).toBeLessThan(200_000);
});
