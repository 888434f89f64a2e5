/** Robust statistics against published values and a statistics package. */
import fc from 'fast-check';
import jstat from 'jstat';
import { expect, test } from 'vitest';
import { mixtureOf, sampleOf } from '../../src/core/stats/mixture';
import { median, medianDeviation } from '../../src/core/stats/robust';
import { draws } from '../build/draws';

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

test('half of the values lie within the median and its deviation', () => {
  fc.assert(
    fc.property(numbers, (v) => {
      const [m, d] = [median(v)!, medianDeviation(v)!];
      expect(v.filter((x) => Math.abs(x - m) <= d * (1 + 1e-12) + 1e-9).length).toBeGreaterThanOrEqual(v.length / 2);
    }),
    { seed: 7 },
  );
});

test('the distance of two samples is the greatest of their distribution functions, counted out', () => {
  const counts = fc.array(fc.integer({ min: 0, max: 5 }), { minLength: 8, maxLength: 8 });
  const values = [1, 2, 3, 5, 8, 13, 21, 34];
  const sample = (c: readonly number[]) => sampleOf(new Map(values.flatMap((v, i) => (c[i]! > 0 ? [[v, c[i]!] as const] : []))));
  fc.assert(
    fc.property(counts, counts, fc.constantFrom(2, 24, 0.5), (a, b, factor) => {
      fc.pre(a.some((n) => n > 0) && b.some((n) => n > 0));
      const list = (c: readonly number[], f = 1) => values.flatMap((v, i) => Array.from({ length: c[i]! }, () => v * f));
      const below = (l: readonly number[], at: number) => l.filter((v) => v <= at * (1 + 1e-9)).length / l.length;
      const [own, plain, times] = [list(a), list(b), list(b, factor)];
      const points = [...own, ...plain, ...times];
      const apart = Math.max(...points.map((at) => Math.abs(below(own, at) - below(plain, at))));
      const m = mixtureOf(sample(a), sample(b), factor);
      expect(m.apart).toBeCloseTo(apart, 9);
      // The share that is found is no worse than any of a hundred others.
      const distanceAt = (p: number) =>
        Math.max(...points.map((at) => Math.abs(below(own, at) - ((1 - p) * below(plain, at) + p * below(times, at)))));
      expect(m.distance).toBeCloseTo(distanceAt(m.share), 9);
      for (let p = 0; p <= 1; p += 0.01) expect(m.distance).toBeLessThanOrEqual(distanceAt(p) + 1e-6);
    }),
    { numRuns: draws(100, 300), seed: 8 },
  );
});
