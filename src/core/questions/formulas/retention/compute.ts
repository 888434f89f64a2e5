/** How the figure of “retention” is worked out, and which of its numbers leads. */
import { lowerBound } from '../../../table/column';
import { wilson } from '../../../stats/wilson';
import { periodsBetween } from '../../calendar';
import type { Cohort, FigureContext, FigureOf } from '../../figure';
import { type Retention } from '../../formula';
import { byPerson, outsideOf, personCount, select, stretchOf } from '../../select';
import { DAY_MS } from '../../../time';
import type { FormulaComputation } from '../../definition';

const MAX_COLUMNS = 8;
const DAYS_PER_COHORT_ROW = 7;
/** Ten years of days: beyond, cohorts are not looked at. */
const MAX_DAYS = 3660;

/** Days of the table's columns: evenly spread, the asked day last. */
export const columnDays = (day: number): number[] => {
  const n = Math.min(MAX_COLUMNS, day);
  return [...new Set(Array.from({ length: n }, (_, i) => Math.round(((i + 1) * day) / n)))];
};

/** The day before the first one, and what is no day. */
const BEFORE = -1;
const NEVER = -2;

/** Of persons whose first start fell on day D, the share with a return on day D + N (or on any day from then on).
 *  Shape: cohorts are weeks of first starts within the last `overDays` days; each cell counts the persons whose day N is over
 *  (for "or after": has begun to be over) and those of them who came back. The asked day's column gives the figure.
 *  Days are calendar days of the workspace's zone, of 23 to 25 hours.
 *  Missing values: persons whose day N is not over are left out and counted as `young`; messages of nobody are counted apart.
 *  Source: own definition; interval by Wilson (stats/wilson).
 */
const compute = (f: Retention, c: FigureContext): FigureOf<'retention'> => {
  const days = columnDays(f.day);
  const starts = select(c, f.start);
  const count = personCount(c);
  const { timeZone, weekStartsOn } = c.settings;
  const begin = Math.max(c.now - f.overDays * DAY_MS, c.now - MAX_DAYS * DAY_MS);
  const calendar = periodsBetween('day', begin, c.now, timeZone, weekStartsOn, MAX_DAYS + 2);
  const today = calendar.find(c.now);
  const cohortFrom = calendar.find(begin);
  // By time, so that the first message of a person is the earliest, and days come one after the other.
  const startDay = new Int32Array(count).fill(NEVER);
  let unattributed = 0;
  let day = BEFORE;
  for (let i = 0; i < starts.person.length; i++) {
    const p = starts.person[i]!;
    if (p < 0) {
      unattributed++;
      continue;
    }
    if (startDay[p] !== NEVER) continue;
    while (starts.time[i]! >= (calendar.starts[day + 1] ?? Infinity)) day++;
    startDay[p] = day;
  }
  // Each person's returns by time: those on a day, or after it, are found without looking at the others.
  const view = stretchOf(c, f.returning, -Infinity, false)?.view ?? select(c, f.returning, -Infinity, false);
  const returns = byPerson(c, view);
  const rows = Math.max(0, Math.ceil((today - cohortFrom + 1) / DAYS_PER_COHORT_ROW));
  const sizes = new Float64Array(rows);
  const eligible = new Float64Array(rows * days.length);
  const returned = new Float64Array(rows * days.length);
  let young = 0;
  for (let p = 0; p < count; p++) {
    const d = startDay[p]!;
    if (d < cohortFrom) continue;
    const row = Math.floor((d - cohortFrom) / DAYS_PER_COHORT_ROW);
    sizes[row]!++;
    const from = returns.start[p]!;
    let to = returns.start[p + 1]!;
    while (to > from && returns.time[to - 1]! > c.now) to--;
    for (let i = 0; i < days.length; i++) {
      const n = days[i]!;
      if (d + n >= today) {
        if (n === f.day) young++;
        continue;
      }
      const cell = row * days.length + i;
      eligible[cell]!++;
      if (to === from || returns.time[to - 1]! < calendar.starts[d + n]!) continue;
      if (f.mode === 'on or after day') returned[cell]!++;
      else {
        const at = lowerBound(returns.time, calendar.starts[d + n]!, from, to);
        if (at < to && returns.time[at]! < calendar.starts[d + n + 1]!) returned[cell]!++;
      }
    }
  }
  const cohorts = Array.from({ length: rows }, (_, r): Cohort => {
    const from = cohortFrom + r * DAYS_PER_COHORT_ROW;
    return {
      from: calendar.starts[from]!,
      to: calendar.starts[Math.min(from + DAYS_PER_COHORT_ROW, today + 1)]!,
      size: sizes[r]!,
      cells: days.map((day, i) => ({ day, size: eligible[r * days.length + i]!, returned: returned[r * days.length + i]! })),
    };
  }).filter((x) => x.size > 0);
  const asked = cohorts.map((x) => x.cells.at(-1)!);
  const size = asked.reduce((n, x) => n + x.size, 0);
  const came = asked.reduce((n, x) => n + x.returned, 0);
  return {
    type: 'retention',
    day: f.day,
    mode: f.mode,
    days,
    cohorts,
    size,
    returned: came,
    share: size === 0 ? undefined : came / size,
    interval: wilson(came, size),
    young,
    unattributed,
    outside: outsideOf(c, [starts], -Infinity),
  };
};

export const retentionComputation: FormulaComputation<'retention'> = {
  type: 'retention',
  compute,
  headline: (f) => ({ value: f.share, interval: f.interval }),
};
