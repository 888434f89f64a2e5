/** Robust statistics against published values and a statistics package. */
import fc from 'fast-check';
import jstat from 'jstat';
import { expect, test } from 'vitest';
import { distributionDistance } from '../../src/core/stats/distribution-distance';
import { median, medianDeviation, robustBand } from '../../src/core/stats/robust';

const { jStat } = jstat as unknown as { jStat: { median(v: readonly number[]): number } };
const numbers = fc.array(fc.double({ min: -1e6, max: 1e6, noNaN: true }), { minLength: 1, maxLength: 60 });

test('the median is that of jstat 1.9; nothing has none', () => {
  expect(median([])).toBeUndefined();
  fc.assert(
    fc.property(numbers, (v) => {
      expect(median(v)).toBeCloseTo(jStat.median([...v]), 9);
    }),
    { seed: 6 },
  );
});

test('the median absolute deviation of 1, 1, 2, 2, 4, 6, 9 is 1', () => {
  // The example that is widely given, quoted from memory.
  expect(medianDeviation([1, 1, 2, 2, 4, 6, 9])).toBe(1);
});

test('half of the values lie within the median and its deviation; a far value moves neither', () => {
  fc.assert(
    fc.property(numbers, (v) => {
      const [m, d] = [median(v)!, medianDeviation(v)!];
      expect(v.filter((x) => Math.abs(x - m) <= d * (1 + 1e-12) + 1e-9).length).toBeGreaterThanOrEqual(v.length / 2);
    }),
    { seed: 7 },
  );
  const week = [100, 104, 96, 99, 103, 98, 101, 102];
  const band = robustBand(week, 6)!;
  const shifted = robustBand([...week.slice(1), 1e9], 6)!;
  expect(Math.abs(shifted.median - band.median)).toBeLessThan(3);
  expect(shifted.high).toBeLessThan(200);
  expect(robustBand([1, 2, 3], 6)).toBeUndefined();
});

test('the distance of two samples is the greatest of their distribution functions, counted out', () => {
  const counts = fc.array(fc.integer({ min: 0, max: 5 }), { minLength: 8, maxLength: 8 });
  const values = [1, 2, 3, 5, 8, 13, 21, 34];
  fc.assert(
    fc.property(counts, counts, fc.constantFrom(1, 2, 24, 0.5), (a, b, factor) => {
      const list = (c: readonly number[], f: number) => values.flatMap((v, i) => Array.from({ length: c[i]! }, () => v / f));
      const [x, y] = [list(a, factor), list(b, 1)];
      const below = (l: readonly number[], at: number) => l.filter((v) => v <= at).length / l.length;
      const expected = x.length === 0 || y.length === 0 ? 1 : Math.max(...[...x, ...y].map((at) => Math.abs(below(x, at) - below(y, at))));
      expect(distributionDistance(values, a, b, factor)).toBeCloseTo(expected, 9);
    }),
    { numRuns: 500, seed: 8 },
  );
});
