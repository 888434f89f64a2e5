/** Source: Newcombe 1998, Statistics in Medicine 17, Table I, method 3 (Wilson score, no continuity correction); values from memory. */
import { expect, test } from 'vitest';
import { wilson } from '../../src/core/stats/wilson';

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
