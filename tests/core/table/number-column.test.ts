import fc from 'fast-check';
import { expect, test } from 'vitest';
import { NumberColumn } from '../../../src/core/table/number-column';
import { draws } from '../../build/draws';

/** A stretch: how long, from where, and how each goes on from the one before. */
const stretch = fc.record({
  length: fc.oneof(fc.nat(20), fc.nat(5000)),
  by: fc.constantFrom(1, 1, 1, 0, 2, -1, 0.5, 1e-3, 86_400_000, 2 ** 31, -(2 ** 31) - 1),
  from: fc.oneof(
    fc.constant(undefined),
    fc.constantFrom(0, 1, -1, 1.5, 1_700_000_000_000, 2 ** 53, 2 ** 53 - 1, -(2 ** 53), 1e300, 2 ** 31 - 1, -62_135_596_800_000),
    fc.integer(),
    fc.double({ noNaN: true }),
  ),
});

test('every number comes back exactly as it was given', () => {
  fc.assert(
    fc.property(fc.array(stretch, { minLength: 1, maxLength: 6 }), (stretches) => {
      const column = new NumberColumn();
      const given: number[] = [];
      let v = 0;
      for (const { length, by, from } of stretches) {
        v = from ?? v;
        for (let i = 0; i < length; i++, v += by) {
          // Nought has no sign here.
          column.push(v);
          given.push(v + 0);
        }
      }
      expect(column.length).toBe(given.length);
      let other = -1;
      for (let i = 0; i < given.length && other < 0; i++) if (column.get(i) + 0 !== given[i]) other = i;
      expect(other).toBe(-1);
    }),
    { seed: 53, numRuns: draws(150, 1500) },
  );
});
