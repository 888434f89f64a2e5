/** Volume by weekday on real counts: births in the United States by day, 2000 to 2014 (see data/us-births-2000-2014).
 *  Few children are born on holidays, as births are planned around them: common knowledge, no source. So holidays must be found low, and
 *  ordinary days must not be found at all.
 */
import { readFileSync } from 'node:fs';
import { expect, test } from 'vitest';
import { BASE_DAYS, dailyVolume, JUDGED_DAYS, volumeSettings } from '../../src/core/arrival/daily-volume';
import { seeded } from '../../src/demo/random';
import { event, planWith } from '../build/plan';

const DAY_MS = 86_400_000;
const plan = planWith([event('b', { name: 'Birth' })], { timeZone: 'UTC' });
const days = readFileSync(new URL('data/us-births-2000-2014/data.csv', import.meta.url), 'utf8')
  .trim()
  .split('\n')
  .slice(1)
  .map((line) => {
    const [year, month, date, , births] = line.split(',').map(Number);
    const at = Date.UTC(year!, month! - 1, date);
    return { at, month: month!, date: date!, weekday: new Date(at).getUTCDay(), births: births! };
  });
const isWeekday = (d: { weekday: number }): boolean => d.weekday >= 1 && d.weekday <= 5;
const isThanksgiving = (d: { month: number; date: number; weekday: number }): boolean =>
  d.month === 11 && d.weekday === 4 && d.date >= 22 && d.date <= 28;

test('the file is whole', () => {
  expect(days.length).toBe(5479);
  expect(days.every((d, i) => i === 0 || d.at - days[i - 1]!.at === DAY_MS)).toBe(true);
});

/** Federal holidays and the days that births are shifted to or from: common knowledge, no source. What lies within four days of one, and the
 *  two weeks about the turn of the year, are left out where ordinary days are asked for.
 */
const isHoliday = (d: (typeof days)[number]): boolean => {
  const nth = Math.ceil(d.date / 7);
  return (
    (d.month === 7 && d.date === 4) ||
    (d.month === 1 && d.date === 1) ||
    (d.month === 12 && d.date === 25) ||
    isThanksgiving(d) ||
    (d.weekday === 1 && ((d.month === 5 && d.date >= 25) || (d.month === 9 && nth === 1))) ||
    (d.month === 12 && d.date >= 22) ||
    (d.month === 1 && d.date <= 5)
  );
};
/** Days that parents choose or avoid: Hallowe'en, the leap day, and dates of one number such as 8 August 2008. The counts themselves show it. */
const isChosen = (d: (typeof days)[number]): boolean =>
  (d.month === 10 && d.date === 31) ||
  (d.month === 2 && d.date === 29) ||
  (d.month === d.date && d.month === new Date(d.at).getUTCFullYear() - 2000);
const holidays = new Set(days.flatMap((d, i) => (isHoliday(d) ? [i] : [])));
const isOrdinary = (i: number): boolean =>
  ![-4, -3, -2, -1, 0, 1, 2, 3, 4].some((k) => holidays.has(i + k)) && ![-1, 0, 1].some((k) => days[i + k] && isChosen(days[i + k]!));

const settings = volumeSettings(plan);
/** Every day judged by the days before it, in stretches as the product looks at them; whether it is found off. */
const judged = (counts: readonly number[]): ('fewer' | 'more' | undefined)[] => {
  const out: ('fewer' | 'more' | undefined)[] = counts.map(() => undefined);
  const window = BASE_DAYS + JUDGED_DAYS;
  for (let end = window; end <= counts.length; end += JUDGED_DAYS) {
    const { off } = dailyVolume(Float64Array.from([...counts.slice(end - window, end), 0]), 0, settings);
    for (const o of off) for (let d = o.from; d < o.to; d++) out[end - window + d] = o.direction;
  }
  return out;
};

test('25 December, 4 July and Thanksgiving are low in every year', () => {
  const found = judged(days.map((d) => d.births));
  const low = (pick: (d: (typeof days)[number]) => boolean): [number, number] => {
    const picked = days.flatMap((d, i) => (i >= BASE_DAYS && i < days.length - JUDGED_DAYS && isWeekday(d) && pick(d) ? [i] : []));
    return [picked.filter((i) => found[i] === 'fewer').length, picked.length];
  };
  expect(low((d) => d.month === 12 && d.date === 25)).toEqual([10, 10]);
  expect(low((d) => d.month === 7 && d.date === 4)).toEqual([12, 12]);
  expect(low(isThanksgiving)).toEqual([14, 14]);
});

test('in two years of ordinary days at most one stretch is found off', () => {
  const found = judged(days.map((d) => d.births));
  const ordinary = days.flatMap((_, i) => (i >= BASE_DAYS && isOrdinary(i) ? [i] : []));
  // A stretch is one alarm, however many days it has; one that holds a holiday is none that is false.
  const alarms = ordinary.filter((i) => found[i] !== undefined && (i === 0 || found[i - 1] !== found[i])).length;
  expect(ordinary.length).toBeGreaterThan(3500);
  expect((alarms / ordinary.length) * 730).toBeLessThanOrEqual(1);
});

test('a cut of 40 % of one ordinary weekday is found in at least 19 of 20', () => {
  const random = seeded(12);
  let found = 0;
  const tries = 60;
  for (let t = 0; t < tries; t++) {
    let i = 0;
    // A day within the last days of a stretch, so that what came before it is ordinary enough.
    while (!(isWeekday(days[i]!) && isOrdinary(i) && i > 200 && i < days.length - 100)) i = random.int(200, days.length - 101);
    const counts = days.slice(i - BASE_DAYS - 20, i + 10).map((d, k) => (k === BASE_DAYS + 20 ? Math.round(d.births * 0.6) : d.births));
    const { off } = dailyVolume(Float64Array.from([...counts, 0]), 0, settings);
    if (off.some((o) => o.direction === 'fewer' && o.from <= BASE_DAYS + 20 && o.to > BASE_DAYS + 20)) found++;
  }
  expect(found / tries).toBeGreaterThanOrEqual(0.95);
});
