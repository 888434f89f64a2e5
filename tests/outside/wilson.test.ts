/** Source: Newcombe 1998, Statistics in Medicine 17, Table I, method 3 (Wilson score, no continuity correction); values from memory. */
import { expect, test } from 'vitest';
import { trialsFor, wilson } from '../../src/core/stats/wilson';

test.each([
  [81, 263, 0.2553, 0.3662],
  [15, 148, 0.0624, 0.1605],
  [0, 20, 0, 0.1611],
  [1, 29, 0.0061, 0.1718],
])('%d of %d', (hits, trials, low, high) => {
  const i = wilson(hits, trials)!;
  expect(i.low).toBeCloseTo(low, 4);
  expect(i.high).toBeCloseTo(high, 4);
});

test('no trials, no interval; more hits than trials is a programmer’s error', () => {
  expect(wilson(0, 0)).toBeUndefined();
  expect(() => wilson(3, 2)).toThrow(RangeError);
});

test('the trials that a bound takes are the fewest that reach it, found one by one', () => {
  for (const share of [0.5, 0.9, 0.95, 0.98])
    for (const misses of [0, 1, 2, 7, 30]) {
      let n = Math.max(1, misses);
      while (wilson(n - misses, n)!.low < share) n++;
      expect([share, misses, trialsFor(misses, share)]).toEqual([share, misses, n]);
    }
  // Without a miss it is z² · share / (1 − share), rounded up: the bound is n / (n + z²) then.
  expect(trialsFor(0, 0.98)).toBe(Math.ceil((3.841458820694124 * 0.98) / 0.02));
  expect(trialsFor(3, 1)).toBeUndefined();
});
