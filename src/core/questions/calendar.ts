/** Calendar periods in a workspace's time zone. */
import { TZDate } from '@date-fns/tz';
import { addDays, addMonths, addWeeks, startOfDay, startOfMonth, startOfWeek } from 'date-fns';
import type { Period } from './formula';

const ADD = { day: addDays, week: addWeeks, month: addMonths } as const;

/** Starts of the periods that cover `from` up to and including `to`, with the end of the last one appended.
 *  Units: UTC epoch ms; `weekStartsOn` 1 = Monday … 7 = Sunday. A day may have 23 or 25 hours.
 */
export const periodStarts = (period: Period, from: number, to: number, timeZone: string, weekStartsOn: number): number[] => {
  const first = new TZDate(from, timeZone);
  const day = (weekStartsOn % 7) as 0 | 1 | 2 | 3 | 4 | 5 | 6;
  let at = period === 'day' ? startOfDay(first) : period === 'week' ? startOfWeek(first, { weekStartsOn: day }) : startOfMonth(first);
  const out = [at.getTime()];
  while (at.getTime() <= to) {
    at = ADD[period](at, 1);
    out.push(at.getTime());
  }
  return out;
};

/** Index of the period that an instant lies in; −1 outside. `starts` as from `periodStarts`. */
export const periodIndex = (starts: readonly number[], at: number): number => {
  if (starts.length < 2 || at < starts[0]! || at >= starts.at(-1)!) return -1;
  let lo = 0;
  let hi = starts.length - 1;
  while (hi - lo > 1) {
    const mid = (lo + hi) >> 1;
    if (starts[mid]! <= at) lo = mid;
    else hi = mid;
  }
  return lo;
};
