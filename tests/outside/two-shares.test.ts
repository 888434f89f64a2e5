/** Source: the package jstat (its test of two proportions and its normal distribution); Pearson's chi-squared of a two-by-two table, whose square
 *  root it is; Fleiss, Levin and Paik 2003, section 3.1.
 */
import fc from 'fast-check';
import jstat from 'jstat';
import { expect, test } from 'vitest';
import { deviationsApart } from '../../src/core/stats/two-shares';

const shares = fc
  .tuple(
    fc.integer({ min: 1, max: 4000 }),
    fc.integer({ min: 1, max: 4000 }),
    fc.integer({ min: 0, max: 1000 }),
    fc.integer({ min: 0, max: 1000 }),
  )
  .map(([n, m, p, q]) => [Math.round((n * p) / 1000), n, Math.round((m * q) / 1000), m] as const);

test('its tail is that of jstat', () => {
  fc.assert(
    fc.property(shares, ([a, n, b, m]) => {
      fc.pre(a > 0 && b > 0 && a + b < n + m);
      const z = deviationsApart(a, n, b, m);
      expect(jstat.normal.cdf(-Math.abs(z), 0, 1)).toBeCloseTo(jstat.fn.oneSidedDifferenceOfProportions(a / n, n, b / m, m), 6);
    }),
  );
});

test('its square is Pearson’s chi-squared, counted cell by cell', () => {
  fc.assert(
    fc.property(shares, ([a, n, b, m]) => {
      const all = n + m;
      const hits = a + b;
      const z = deviationsApart(a, n, b, m);
      fc.pre(hits > 0 && hits < all);
      const cells = [
        [a, (n * hits) / all],
        [n - a, (n * (all - hits)) / all],
        [b, (m * hits) / all],
        [m - b, (m * (all - hits)) / all],
      ] as const;
      const chi = cells.reduce((sum, [seen, expected]) => sum + (seen - expected) ** 2 / expected, 0);
      expect(z * z).toBeCloseTo(chi, 6);
      expect(z).toBeCloseTo(-deviationsApart(b, m, a, n), 9);
    }),
  );
});

test('no trials on a side, no hits and nothing but hits tell nothing', () => {
  expect([deviationsApart(0, 0, 3, 9), deviationsApart(3, 9, 0, 0), deviationsApart(0, 7, 0, 9), deviationsApart(7, 7, 9, 9)]).toEqual([
    0, 0, 0, 0,
  ]);
});
