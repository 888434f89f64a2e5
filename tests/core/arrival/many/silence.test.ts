import { describe, expect, test } from 'vitest';
import { DAY, MINUTE_MS, run, user, type Row } from './harness';

describe('silence', () => {
  const daily = (silent: (day: number) => boolean, perDay = 6): Row[] =>
    Array.from({ length: 42 }, (_, d) => d)
      .filter((d) => !silent(d))
      .flatMap((d) => Array.from({ length: perDay }, (_, i) => ({ at: d * DAY + 30 * i, ids: user(i) })));
  test('whole days without any, where the weekdays let expect enough; over or not', () => {
    const [gap] = run(
      'silence',
      daily((d) => d >= 35 && d <= 37),
      42 * DAY,
    );
    expect(gap).toMatchObject({ params: { days: 3, ongoing: false }, firstAt: 35 * DAY * MINUTE_MS, outOf: 18 });
    expect(
      run(
        'silence',
        daily((d) => d >= 39),
        42 * DAY,
      ),
    ).toMatchObject([{ params: { ongoing: true, days: 3 } }]);
  });
  test('a rare event may well be silent', () => {
    expect(
      run(
        'silence',
        daily((d) => d === 35 || d === 36, 2),
        42 * DAY,
      ),
    ).toEqual([]);
    expect(
      run(
        'silence',
        daily(() => false),
        42 * DAY,
      ),
    ).toEqual([]);
  });
});
