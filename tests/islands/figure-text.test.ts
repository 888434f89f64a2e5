/** What stands beside a figure: no 0 where there is nothing, what was left out, units, years. */
import { describe, expect, test } from 'vitest';
import type { Figure } from '../../src/core/questions/figure';
import { headline, headlineNote, outsideText, shareOf, periodText, toleranceText } from '../../src/islands/questions/figure-text';

const OUTSIDE = { before: 0, after: 0 };
const counted = { unattributed: 0, outside: OUTSIDE };

test('a share of nothing is none, not 0', () => {
  expect([shareOf(0, 0), shareOf(0, 4), shareOf(1, 4)]).toEqual([undefined, 0, 0.25]);
});

test('what is dated outside is counted in words, and nothing is said where nothing is', () => {
  expect(outsideText({ outside: OUTSIDE })).toBe('');
  expect(outsideText({ outside: { before: 1, after: 0 } })).toBe('1 message dated before the first period shown is not counted. ');
  expect(outsideText({ outside: { before: 1200, after: 2 } })).toBe(
    '1,200 messages dated before the first period shown are not counted. 2 messages dated after now are not counted. ',
  );
});

test('steps that count by the tolerance between clocks alone are said', () => {
  expect(toleranceText({ byTolerance: 0, toleranceMs: 2000 })).toBe('');
  expect(toleranceText({ byTolerance: 31, toleranceMs: 2000 })).toMatch(/^For 31 persons .* up to 2 s before .*It counts/);
});

describe('the one number', () => {
  const total = (sum: number | undefined): Figure => ({
    type: 'total of a property',
    points: [],
    latest: { from: 0, to: 1, complete: true, n: sum === undefined ? 0 : 3, sum, mean: sum, median: sum, p95: sum },
    all: { n: 0, sum: undefined, mean: undefined, median: undefined, p95: undefined },
    notANumber: 0,
    ...counted,
  });
  test.each([
    ['days', 4142, 'd', '4,142 d'],
    ['money', 1234.5, 'EUR', '€1,234.50'],
    ['no unit', 7, '', '7'],
    ['nothing', undefined, 'kg', '–'],
    ['zero', 0, 'kg', '0 kg'],
  ])('of a total, with its unit: %s', (_, sum, unit, text) => expect(headline(total(sum), unit)).toBe(text));

  const conversion = (persons: readonly number[]): Figure => ({
    type: 'conversion',
    steps: persons.map((n, i) => ({ eventName: `Step ${i}`, persons: n, messages: n })),
    share: shareOf(persons.at(-1)!, persons[0]!),
    interval: undefined,
    open: 0,
    byTolerance: 0,
    toleranceMs: 2000,
    ...counted,
  });
  test('of a conversion that nobody began there is none', () => {
    expect([headline(conversion([0, 0])), headlineNote(conversion([0, 0]), 'UTC')]).toEqual(['–', 'nobody did the first step']);
    expect([headline(conversion([4, 0])), headlineNote(conversion([4, 0]), 'UTC')]).toEqual(['0.0 %', '0 of 4 persons']);
  });
});

test('a period of another year says its year', () => {
  const year = new Date().getUTCFullYear();
  const span = (y: number) => periodText({ from: Date.UTC(y, 2, 2), to: Date.UTC(y, 2, 9) }, 'UTC');
  expect(span(year)).toBe('2 Mar to 8 Mar');
  expect(span(year - 2)).toBe(`2 Mar ${year - 2} to 8 Mar ${year - 2}`);
});
