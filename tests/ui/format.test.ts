import { formatDistanceStrict } from 'date-fns';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { amountText, moneyText } from '../../src/ui/amount';
import { ageText, count, percent, untilText } from '../../src/ui/format';

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

test('an amount of a currency is money, by its digits (ISO 4217); any other has its unit behind it', () => {
  const said = (n: number, unit: string): string => amountText(n, unit).replaceAll('\u00a0', ' ');
  expect([said(123_450, 'minor units of EUR'), said(300, 'minor units of JPY'), said(1500, 'minor units of KWD'), said(12.5, 'major units of EUR')]).toEqual(['€1,234.50', 'JP¥300', 'KWD 1.500', '€12.50']); // prettier-ignore
  expect([said(5, 'd'), said(5, ''), said(700, 'minor units, each in its own currency')]).toEqual(['5 d', '5', '700 minor units, each in its own currency']); // prettier-ignore
});

test('ages and waits are said as date-fns says them (4.4.0, formatDistanceStrict), whatever their length', () => {
  const zone = process.env['TZ'];
  process.env['TZ'] = 'UTC';
  try {
    const now = Date.UTC(2026, 10, 30, 12);
    const edges = [5000, 59_499, 59_500, 60_000, 89_999, 90_000, 3_599_999, 3_600_000, 86_399_999, 86_400_000, 29.5 * 86_400_000, 30 * 86_400_000, 345 * 86_400_000, 364.9 * 86_400_000, 365 * 86_400_000, 4000 * 86_400_000]; // prettier-ignore
    for (const ms of edges) expect([ms, ageText(now - ms, now)]).toEqual([ms, `${formatDistanceStrict(now - ms, now)} ago`]);
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 5000 }), fc.constantFrom(1, 1000, 60_000, 3_600_000, 86_400_000), (n, unit) => {
        if (n * unit >= 5000) expect(ageText(now - n * unit, now)).toBe(`${formatDistanceStrict(now - n * unit, now)} ago`);
        expect(untilText(now + n * unit, now)).toBe(`in ${formatDistanceStrict(now + n * unit, now)}`);
      }),
    );
  } finally {
    if (zone === undefined) delete process.env['TZ'];
    else process.env['TZ'] = zone;
  }
  expect(ageText(0, 4999)).toBe('just now');
});
