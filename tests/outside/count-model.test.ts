/** The model of daily counts against what defines it, and its chances against counting.
 *  Source: McCullagh and Nelder 1989, chapter 2 (the score equations of a Poisson regression with a log link; at its end X'(y − μ) is nought but for
 *  the ridge); Przyborowski and Wilenski 1940 (the conditional distribution is binomial); Wilson and Hilferty 1931 with the package jstat for the
 *  chi-squared quantile.
 */
import fc from 'fast-check';
import jstat from 'jstat';
import { expect, test } from 'vitest';
import {
  bandOf,
  chanceOfNone,
  chanceOfNoneAtOneRate,
  countModel,
  deviationOf,
  together,
  type ExpectedCount,
} from '../../src/core/stats/count-model';
import { seeded } from '../../src/demo/random';

const HALF_LIFE = 21;
const RIDGE = 0.05;

test('at the fitted means the weighted residuals balance: by level, by weekday, by growth', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 1e6 }), fc.integer({ min: 28, max: 56 }), (seed, days) => {
      const r = seeded(seed);
      const level = 20 + r.next() * 400;
      // No day lies so far off that it is left out of a second fit.
      const counts = Array.from({ length: days }, (_, d) => Math.round(level * (1 + 0.3 * Math.sin(d % 7)) * (0.95 + 0.1 * r.next())));
      const model = countModel(counts)!;
      const mean = counts.map((_, d) => model.expect(d).mean);
      const weight = counts.map((_, d) => 0.5 ** ((days - 1 - d) / HALF_LIFE));
      const balance = (x: (d: number) => number) => counts.reduce((n, y, d) => n + weight[d]! * x(d) * (y - mean[d]!), 0);
      const scale = balance(() => 0) + counts.reduce((n, y) => n + y, 0);
      expect(Math.abs(balance(() => 1)) / scale).toBeLessThan(1e-6);
      // The other coefficients are held by the ridge, as much as they are away from nought: log ratios of means say how much.
      const growth =
        (Math.log(mean[days - 1]!) - Math.log(mean[days - 1 - 7 * Math.floor((days - 1) / 7)]!)) *
        (days / (7 * Math.floor((days - 1) / 7)));
      expect(balance((d) => (d - (days - 1) / 2) / days)).toBeCloseTo(RIDGE * growth, 3);
      for (let w = 1; w < 7; w++) {
        const coefficient = Math.log(mean[w]! / mean[0]!) - (growth * w) / days;
        expect(balance((d) => (d % 7 === w ? 1 : 0))).toBeCloseTo(RIDGE * coefficient, 3);
      }
    }),
    { numRuns: 60 },
  );
});

test('the exact chance of none is the share of all ways to lay the messages on the days', () => {
  for (const [came, days, empty] of [
    [0, 3, 2],
    [1, 3, 2],
    [4, 3, 1],
    [5, 2, 3],
    [6, 4, 1],
  ] as const) {
    const all = (days + empty) ** came;
    let none = 0;
    for (let way = 0; way < all; way++) {
      let rest = way;
      let isFree = true;
      for (let m = 0; m < came; m++) {
        if (rest % (days + empty) >= days) isFree = false;
        rest = Math.floor(rest / (days + empty));
      }
      if (isFree) none++;
    }
    expect(chanceOfNoneAtOneRate(came, days, empty)).toBeCloseTo(none / all, 12);
  }
});

const sure = (mean: number, more: Partial<ExpectedCount> = {}): ExpectedCount => ({
  mean,
  grown: mean,
  dispersion: 1,
  leverage: 0,
  scatter: 1,
  free: 1e9,
  ...more,
});

test('where the mean is known, the chance of none is Poisson’s', () => {
  for (const mean of [0.5, 3, 12]) expect(chanceOfNone(sure(mean))).toBeCloseTo(Math.exp(-mean), 4);
});

test('few days leave the dispersion as open as the chi-squared distribution says', () => {
  for (const [free, scatter] of [
    [6, 2],
    [12, 3],
    [40, 1.5],
  ] as const) {
    // The chance is e to the minus of mean over dispersion, so it gives the dispersion back.
    const atMost = -10 / Math.log(chanceOfNone(sure(10, { free, scatter, dispersion: scatter })));
    expect(atMost / ((scatter * free) / jstat.chisquare.inv(0.1587, free))).toBeCloseTo(1, 1);
  }
});

test('what a band lets pass is what lies less far off than its width, on both sides', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 0.5, max: 5000, noNaN: true }),
      fc.double({ min: 1, max: 9, noNaN: true }),
      fc.double({ min: 0, max: 0.2, noNaN: true }),
      fc.double({ min: 0.5, max: 2, noNaN: true }),
      fc.integer({ min: 0, max: 9000 }),
      (mean, dispersion, leverage, growth, count) => {
        const e = sure(mean, { dispersion, leverage, grown: mean * growth });
        const { low, high } = bandOf(e, 5);
        const deviation = deviationOf(count, e);
        fc.pre(Math.abs(Math.abs(deviation) - 5) > 1e-6);
        expect(count >= low && count <= high).toBe(Math.abs(deviation) < 5 || (deviation < 0 && low === 0));
      },
    ),
  );
});

test('days together have the sum of their means, and a level that is not better known for being many', () => {
  const e = together([sure(10, { leverage: 0.01, dispersion: 2 }), sure(30, { leverage: 0.01, dispersion: 2 })]);
  expect(e).toMatchObject({ mean: 40, grown: 40, dispersion: 2, leverage: 0.01 });
});
