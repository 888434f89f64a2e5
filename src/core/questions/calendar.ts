/** Calendar periods in a workspace's time zone. Days are counted as days of the calendar and turned into instants one by one, so that a clock
 *  change shifts the day that it falls on and no other.
 */
import { tzOffset } from '@date-fns/tz';
import { DAY_MS, MINUTE_MS } from '../time';
import type { Period } from './formula';

/** No series has more periods than this, whatever is dated when: what lies before is counted, and not drawn. */
export const MAX_PERIODS: { readonly [P in Period]: number } = { day: 400, week: 160, month: 120 };

const offsetAt = (at: number, timeZone: string): number => tzOffset(timeZone, new Date(at)) * MINUTE_MS;

/** A day of the calendar in a zone, counted from 1 January 1970. */
export const calendarDay = (at: number, timeZone: string): number => Math.floor((at + offsetAt(at, timeZone)) / DAY_MS);

/** Farther than any zone is from UTC. */
const AROUND_MS = 15 * 3_600_000;

/** First instant of a day of the calendar. Clocks may change at midnight: then the day begins with the first instant that is on it, such as
 *  01:00; where midnight comes twice, with the first. UTC epoch ms.
 *  Source: as Temporal.PlainDate.prototype.toZonedDateTime of ECMA-262 has it.
 */
const beginOf = (day: number, timeZone: string): number => {
  const midnight = day * DAY_MS;
  const before = offsetAt(midnight - AROUND_MS, timeZone);
  const after = offsetAt(midnight + AROUND_MS, timeZone);
  if (before === after) return midnight - before;
  const [early, late] = before > after ? [midnight - before, midnight - after] : [midnight - after, midnight - before];
  if (offsetAt(early, timeZone) === (before > after ? before : after)) return early;
  if (offsetAt(late, timeZone) === (before > after ? after : before)) return late;
  // Midnight is left out: the clock goes from before it to after it at one instant.
  let lo = midnight - AROUND_MS;
  let hi = midnight + AROUND_MS;
  while (hi - lo > 1) {
    const mid = Math.floor((lo + hi) / 2);
    if (offsetAt(mid, timeZone) === before) lo = mid;
    else hi = mid;
  }
  return hi;
};

const MAX_REMEMBERED = 50_000;
/** Zone → day → its first instant: the same days are asked about again and again. */
const begins = new Map<string, Map<number, number>>();

const firstInstant = (day: number, timeZone: string): number => {
  let ofZone = begins.get(timeZone);
  if (!ofZone) begins.set(timeZone, (ofZone = new Map<number, number>()));
  let at = ofZone.get(day);
  if (at === undefined) {
    if (ofZone.size >= MAX_REMEMBERED) ofZone.clear();
    ofZone.set(day, (at = beginOf(day, timeZone)));
  }
  return at;
};

/** The day of the calendar that a period begins on. 1 January 1970 was a Thursday. */
const beginDay = (period: Period, day: number, weekStartsOn: number): number => {
  if (period === 'day') return day;
  if (period === 'week') return day - ((((day + 3 - (weekStartsOn - 1)) % 7) + 7) % 7);
  const date = new Date(day * DAY_MS);
  return Date.UTC(date.getUTCFullYear(), date.getUTCMonth(), 1) / DAY_MS;
};

/** The begin of the period that comes so many after one that begins on `day`; before it where `n` is negative. */
const shifted = (period: Period, day: number, n: number): number => {
  if (period !== 'month') return day + n * (period === 'day' ? 1 : 7);
  const date = new Date(day * DAY_MS);
  return Date.UTC(date.getUTCFullYear(), date.getUTCMonth() + n, 1) / DAY_MS;
};

/** Starts of the periods that cover `from` up to and including `to`, with the end of the last one appended; of more than `most` the last.
 *  Units: UTC epoch ms; `weekStartsOn` 1 = Monday … 7 = Sunday. A day may have 23 or 25 hours; a day that a zone left out is no period.
 */
export const periodStarts = (
  period: Period,
  from: number,
  to: number,
  timeZone: string,
  weekStartsOn: number,
  max: number = MAX_PERIODS[period],
): number[] => {
  const last = beginDay(period, calendarDay(to, timeZone), weekStartsOn);
  const begun = beginDay(period, calendarDay(Math.min(from, to), timeZone), weekStartsOn);
  const first = Number.isFinite(max) ? Math.max(begun, shifted(period, last, 1 - Math.max(1, max))) : begun;
  const out: number[] = [];
  for (let day = first; ; day = shifted(period, day, 1)) {
    const at = firstInstant(day, timeZone);
    if (out.length === 0 || at > out.at(-1)!) out.push(at);
    if (day > last) return out;
  }
};

/** First instant of a calendar day in a zone, and of the day after it, as UTC epoch ms. `day` is written YYYY-MM-DD (ISO 8601); `undefined`
 *  for what is no day.
 */
export const dayBounds = (day: string, timeZone: string): { readonly from: number; readonly to: number } | undefined => {
  if (!/^\d{4}-\d{2}-\d{2}$/.test(day)) return undefined;
  const at = Date.parse(`${day}T00:00:00Z`);
  if (Number.isNaN(at) || !new Date(at).toISOString().startsWith(day)) return undefined;
  return { from: firstInstant(at / DAY_MS, timeZone), to: firstInstant(at / DAY_MS + 1, timeZone) };
};

/** The calendar day of an instant in a zone, written YYYY-MM-DD. */
export const dayOf = (at: number, timeZone: string): string => new Date(calendarDay(at, timeZone) * DAY_MS).toISOString().slice(0, 10);

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

/** The periods that cover `from` up to and including `to`; of more than `most` the last. */
export const periodsBetween = (
  period: Period,
  from: number,
  to: number,
  timeZone: string,
  weekStartsOn: number,
  max: number = MAX_PERIODS[period],
): Periods => {
  const starts = periodStarts(period, from, to, timeZone, weekStartsOn, max);
  return {
    starts,
    count: starts.length - 1,
    find: periodFinder(starts),
    span: (i, now) => ({ from: starts[i]!, to: starts[i + 1]!, complete: starts[i + 1]! <= now }),
  };
};
