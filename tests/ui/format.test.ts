import fc from 'fast-check';
import { expect, test } from 'vitest';
import { count, moneyText, percent } from '../../src/ui/format';

test('what is not all is never shown as all, and what is something never as nothing', () => {
  expect([0, 0.0001, 0.0005, 0.123, 0.9994, 0.9999, 1, undefined].map((s) => percent(s))).toEqual([
    '0.0 %',
    '< 0.1 %',
    '0.1 %',
    '12.3 %',
    '99.9 %',
    '> 99.9 %',
    '100.0 %',
    '–',
  ]);
  expect([0.004, 0.996].map((s) => percent(s, 0))).toEqual(['< 1 %', '> 99 %']);
  fc.assert(
    fc.property(fc.double({ min: 0, max: 1, noNaN: true }), fc.constantFrom(0, 1), (share, digits) => {
      const text = percent(share, digits);
      expect(/^100(\.0)? %$/.test(text)).toBe(share === 1);
      expect(/^0(\.0)? %$/.test(text)).toBe(share === 0);
      expect(Math.abs(Number(/[\d.]+/.exec(text)![0]) - share * 100)).toBeLessThanOrEqual(10 ** -digits);
    }),
    { seed: 1, numRuns: 500 },
  );
});

test('counts with separators, money in its currency, and what is no currency as it stands', () => {
  expect([count(1234567), moneyText(4, 'EUR'), moneyText(300, 'JPY'), moneyText(1.5, 'what')]).toEqual([
    '1,234,567',
    '€4.00',
    'JP¥300',
    '1.5 what',
  ]);
});
