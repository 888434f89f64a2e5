/** Calendar periods in a workspace's time zone. */
import { TZDate } from '@date-fns/tz';
import { addDays, addMonths, addWeeks, format, startOfDay, startOfMonth, startOfWeek } from 'date-fns';
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

/** First instant of a calendar day in a zone, and of the day after it, as UTC epoch ms. `day` is written YYYY-MM-DD (ISO 8601); `undefined`
 *  for what is no day.
 */
export const dayBounds = (day: string, timeZone: string): { readonly from: number; readonly to: number } | undefined => {
  const m = /^(\d{4})-(\d{2})-(\d{2})$/.exec(day);
  if (!m) return undefined;
  const start = new TZDate(Number(m[1]), Number(m[2]) - 1, Number(m[3]), timeZone);
  return start.getDate() === Number(m[3]) ? { from: start.getTime(), to: addDays(start, 1).getTime() } : undefined;
};

/** The calendar day of an instant in a zone, written YYYY-MM-DD. */
export const dayOf = (at: number, timeZone: string): string => format(new TZDate(at, timeZone), 'yyyy-MM-dd');

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

/** A look-up of the period of an instant that remembers the last one: messages mostly come in order. */
export const periodFinder = (starts: readonly number[]): ((at: number) => number) => {
  let last = 0;
  let from = Infinity;
  let to = -Infinity;
  return (at) => {
    if (at >= from && at < to) return last;
    const found = periodIndex(starts, at);
    if (found < 0) return found;
    last = found;
    from = starts[last]!;
    to = starts[last + 1]!;
    return last;
  };
};

export interface Periods {
  readonly starts: readonly number[];
  readonly count: number;
  readonly find: (at: number) => number;
  /** The span of a period, and whether it is over at `now`. */
  readonly span: (i: number, now: number) => { from: number; to: number; complete: boolean };
}

/** The periods that cover `from` up to and including `to`. */
export const periodsBetween = (period: Period, from: number, to: number, timeZone: string, weekStartsOn: number): Periods => {
  const starts = periodStarts(period, from, to, timeZone, weekStartsOn);
  return {
    starts,
    count: starts.length - 1,
    find: periodFinder(starts),
    span: (i, now) => ({ from: starts[i]!, to: starts[i + 1]!, complete: starts[i + 1]! <= now }),
  };
};
