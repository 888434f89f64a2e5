/** Volume by weekday on real counts: births in the United States by day, 2000 to 2014 (see data/us-births-2000-2014).
 *  Few children are born on holidays, as births are planned around them: common knowledge, no source. So holidays must be found low, and
 *  ordinary days must not be found at all.
 */
import { readFileSync } from 'node:fs';
import { expect, test } from 'vitest';
import { volumeChange } from '../../src/core/arrival/batch/volume-change';
import { valuesOf } from '../../src/core/arrival/check';
import { volumeOf } from '../../src/core/arrival/volume';
import { robustBand } from '../../src/core/stats/robust';
import { MessageTable } from '../../src/core/table/message-table';
import { event, planWith } from '../plans';

const DAY_MS = 86_400_000;
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

test('against eight same weekdays before, every holiday on a weekday lies below the band', () => {
  const low = (pick: (d: (typeof days)[number]) => boolean): [number, number] => {
    const picked = days.flatMap((d, i) => (i >= 56 && isWeekday(d) && pick(d) ? [i] : []));
    const found = picked.filter(
      (i) =>
        days[i]!.births <
        robustBand(
          Array.from({ length: 8 }, (_, w) => days[i - 7 * (w + 1)]!.births),
          5,
        )!.low,
    );
    return [found.length, picked.length];
  };
  expect(low((d) => d.month === 12 && d.date === 25)).toEqual([11, 11]);
  expect(low((d) => d.month === 7 && d.date === 4)).toEqual([12, 12]);
  expect(low(isThanksgiving)).toEqual([15, 15]);
});

/** A hundredth of the births as messages, since each is a row. */
const tableOf = (from: number): MessageTable => {
  const table = new MessageTable();
  let seq = 0;
  for (const d of days.slice(from))
    for (let n = 0; n < Math.round(d.births / 20); n++)
      for (const name of ['Birth', 'Day Told'].slice(0, n % 20 === 0 ? 2 : 1))
        table.append({
          seq: ++seq,
          kind: 'event',
          name,
          sourceId: 's',
          release: '',
          occurredAt: d.at + 3_600_000 + n,
          receivedAt: d.at + 3_600_000 + n,
          ids: {},
          properties: {},
        });
  return table;
};
const plan = planWith([event('b', { name: 'Birth' })], { timeZone: 'UTC' });

test('the view of volume marks the great holidays of its eight weeks as fewer than usual, and few days else', () => {
  const end = days.findIndex((d) => d.at === Date.UTC(2014, 11, 31));
  const now = days[end]!.at + DAY_MS / 2;
  const shown = 730;
  const volume = volumeOf(plan, tableOf(end - shown - 40), new Int32Array(0), [], now, { eventName: 'Birth', days: shown });
  const off = new Map(volume.days.filter((d) => d.off).map((d) => [d.at, d.off]));
  const great = days.filter(
    (d) =>
      d.at >= volume.days[0]!.at &&
      d.at < days[end]!.at &&
      isWeekday(d) &&
      (isThanksgiving(d) || (d.month === 12 && d.date === 25) || (d.month === 7 && d.date === 4)),
  );
  expect(great.length).toBe(6);
  expect(great.map((d) => off.get(d.at))).toEqual(great.map(() => 'fewer'));
  // New year, Memorial Day, Labor Day and the days beside holidays are off as well; all in all a few days in a hundred.
  expect(off.size).toBeLessThan(0.05 * volume.days.length);
});

test('the check of volume is silent where an event falls and rises with its source: a holiday is no fault', () => {
  const table = tableOf(days.length - 400);
  const c = { plan, table, personOfMessage: new Int32Array(0), persons: 0, now: days.at(-1)!.at + DAY_MS, watchedSince: 0 };
  expect(volumeChange.find(c, valuesOf(volumeChange.parameters, undefined))).toEqual([]);
});
