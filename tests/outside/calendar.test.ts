/** Calendar periods against the Temporal API as the package temporal-polyfill 1 has it (TC39 Temporal; ISO 8601 weeks), over 400 years and
 *  over changes of the clock; quantiles against the package jstat 1.9 (with alpha and beta 1: definition 7 of Hyndman and Fan 1996).
 */
import jstat from 'jstat';
import { Temporal } from 'temporal-polyfill';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { MAX_PERIODS, periodFinder, periodIndex, periodStarts } from '../../src/core/questions/calendar';
import type { Period } from '../../src/core/questions/formula';
import { quantileOfCounts } from '../../src/core/stats/quantile';
import { draws } from '../build/draws';

const ZONES = ['Europe/London', 'America/New_York', 'Australia/Lord_Howe', 'Asia/Kathmandu', 'America/Santiago', 'UTC'];

const startByTemporal = (at: number, period: Period, zone: string, weekStartsOn: number): number => {
  const date = Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone).toPlainDate();
  const day =
    period === 'day' ? date : period === 'month' ? date.with({ day: 1 }) : date.subtract({ days: (date.dayOfWeek - weekStartsOn + 7) % 7 });
  return day.toZonedDateTime(zone).epochMilliseconds;
};

test('day, week and month begin where Temporal says, in zones whose clocks change', () => {
  const from = Date.parse('2024-01-01T00:00:00Z');
  fc.assert(
    fc.property(
      fc.integer({ min: from, max: from + 4 * 365 * 86_400_000 }),
      fc.constantFrom<Period>('day', 'week', 'month'),
      fc.constantFrom(...ZONES),
      fc.integer({ min: 1, max: 7 }),
      (at, period, zone, weekStartsOn) => {
        const [start, next] = periodStarts(period, at, at, zone, weekStartsOn);
        expect(start).toBe(startByTemporal(at, period, zone, weekStartsOn));
        expect(next).toBe(startByTemporal(next!, period, zone, weekStartsOn));
        expect(at >= start! && at < next!).toBe(true);
      },
    ),
    { seed: 11, numRuns: 150 },
  );
});

test('weeks of 400 years begin on the Mondays of ISO 8601, and 71 of the years have a week 53', () => {
  const starts = periodStarts('week', Date.parse('2000-01-03T00:00:00Z'), Date.parse('2400-01-01T00:00:00Z'), 'UTC', 1, Infinity);
  const years = new Set<number>();
  for (const s of starts) {
    const d = Temporal.Instant.fromEpochMilliseconds(s).toZonedDateTimeISO('UTC').toPlainDate();
    expect(d.dayOfWeek).toBe(1);
    if (d.weekOfYear === 53 && d.yearOfWeek! < 2400) years.add(d.yearOfWeek!);
  }
  // 146,097 days are 20,871 weeks; 71 of 400 years have 53 of them.
  expect(years.size).toBe(71);
});

test('New York, 10 March and 3 November 2024: days of 23 and 25 hours', () => {
  const hours = (day: string) => {
    const at = Date.parse(`${day}T18:00:00Z`);
    const [a, b] = periodStarts('day', at, at, 'America/New_York', 1);
    return (b! - a!) / 3_600_000;
  };
  expect([hours('2024-03-10'), hours('2024-11-03')]).toEqual([23, 25]);
});

test('the look-up that remembers gives what the plain one gives', () => {
  const starts = periodStarts('day', 0, 90 * 86_400_000, 'Europe/London', 1);
  fc.assert(
    fc.property(fc.array(fc.integer({ min: -86_400_000, max: 100 * 86_400_000 }), { maxLength: 40 }), (times) => {
      const find = periodFinder(starts);
      expect(times.map(find)).toEqual(times.map((t) => periodIndex(starts, t)));
    }),
    { seed: 3 },
  );
});

test('median and p95 of counted values are those of the sample written out', () => {
  const counted = fc.uniqueArray(fc.record({ value: fc.integer({ min: -500, max: 500 }), n: fc.integer({ min: 0, max: 5 }) }), {
    selector: (x) => x.value,
    maxLength: 12,
  });
  fc.assert(
    fc.property(counted, fc.constantFrom(0, 0.25, 0.5, 0.9, 0.95, 1), (list, p) => {
      const sorted = [...list].sort((a, b) => a.value - b.value);
      const sample = sorted.flatMap((x) => new Array<number>(x.n).fill(x.value));
      const own = quantileOfCounts(
        sorted.map((x) => x.value),
        sorted.map((x) => x.n),
        p,
      );
      if (sample.length === 0) expect(own).toBeUndefined();
      // jstat has no answer for a sample of one.
      else if (sample.length === 1) expect(own).toBe(sample[0]);
      else expect(own).toBeCloseTo(jstat.quantiles(sample, [p], 1, 1)[0]!, 9);
    }),
    { seed: 7, numRuns: 150 },
  );
});

test('the worked example of NIST/SEMATECH e-Handbook 7.2.6.2, twelve gauge values [from memory], by definition 7: 95.1957', () => {
  const gauge = [95.0602, 95.0925, 95.1065, 95.1195, 95.1442, 95.1567, 95.1591, 95.1682, 95.1772, 95.1937, 95.1959, 95.199];
  const own = quantileOfCounts(
    gauge,
    gauge.map(() => 1),
    0.9,
  );
  expect(own!.toFixed(4)).toBe('95.1957');
});

test('every day, week and month of ten years begins where Temporal says, in every zone of the platform', () => {
  const zones = Intl.supportedValuesOf('timeZone');
  expect(zones.length).toBeGreaterThanOrEqual(400);
  const from = Date.parse('2016-01-04T12:00:00Z');
  const to = Date.parse('2026-01-05T12:00:00Z');
  // What a zone does is what its changes of the clock do: away from them days have 24 hours, which is looked at too.
  const wrong: string[] = [];
  // The reference takes a minute for all of them.
  for (const zone of zones.filter((_, i) => i % draws(16, 1) === 0)) {
    const starts = periodStarts('day', from, to, zone, 1, Infinity);
    let date = Temporal.Instant.fromEpochMilliseconds(from).toZonedDateTimeISO(zone).toPlainDate();
    for (const at of starts) {
      const expected = date.toZonedDateTime(zone).epochMilliseconds;
      if (at !== expected) wrong.push(`${zone} ${date.toString()}: ${at - expected}`);
      date = date.add({ days: 1 });
    }
    for (const [period, startsOn] of [
      ['week', 1],
      ['week', 7],
      ['month', 1],
    ] as const)
      for (const at of periodStarts(period, from, to, zone, startsOn, Infinity))
        if (at !== startByTemporal(at, period, zone, startsOn)) wrong.push(`${zone} ${period} ${at}`);
  }
  expect(wrong).toEqual([]);
});

test('clocks that change at midnight: the days after it begin at midnight again', () => {
  for (const [zone, day] of [
    ['Africa/Cairo', '2024-04-26'],
    ['America/Havana', '2024-03-10'],
    ['America/Santiago', '2024-09-08'],
    ['Asia/Beirut', '2024-03-31'],
    ['America/Asuncion', '2023-10-01'],
    ['America/Coyhaique', '2024-09-08'],
    ['Atlantic/Azores', '2024-03-31'],
  ] as const) {
    if (!Intl.supportedValuesOf('timeZone').includes(zone)) continue;
    const at = Date.parse(`${day}T12:00:00Z`);
    const starts = periodStarts('day', at - 3 * 86_400_000, at + 60 * 86_400_000, zone, 1);
    for (const s of starts.slice(5))
      expect([zone, Temporal.Instant.fromEpochMilliseconds(s).toZonedDateTimeISO(zone).hour]).toEqual([zone, 0]);
  }
});

test('no series has more periods than its bound, whatever is dated when', () => {
  const now = Date.parse('2026-11-28T00:00:00Z');
  for (const from of [-62_135_596_800_000, 0, now - 86_400_000, now, now + 1e12])
    for (const period of ['day', 'week', 'month'] as const) {
      const starts = periodStarts(period, from, now, 'Europe/Lisbon', 1);
      expect(starts.length - 1).toBeLessThanOrEqual(MAX_PERIODS[period]);
      expect(starts.length).toBeGreaterThanOrEqual(2);
      expect([starts.at(-2)! <= now, starts.at(-1)! > now]).toEqual([true, true]);
    }
});
