import { wilson } from '../../stats/wilson';
import { periodsBetween } from '../calendar';
import type { FormulaDefinition } from '../definition';
import type { Cohort, FigureContext, FigureOf } from '../figure';
import { DAY_MS, EMPTY_STEP, type Retention } from '../formula';
import { personCount, rowsOfStep } from '../select';
import { choicePart, eventPart, numberPart, words } from '../sentence';

const MOST_COLUMNS = 8;
const DAYS_PER_COHORT_ROW = 7;

/** Days of the table's columns: evenly spread, the asked day last. */
export const columnDays = (day: number): number[] => {
  const n = Math.min(MOST_COLUMNS, day);
  return [...new Set(Array.from({ length: n }, (_, i) => Math.round(((i + 1) * day) / n)))];
};

/** Of persons whose first start fell on day D, the share with a return on day D + N (or on any day from then on).
 *  Shape: cohorts are weeks of first starts within the last `overDays` days; each cell counts the persons whose day N is over
 *  (for "or after": has begun to be over) and those of them who came back. The asked day's column gives the figure.
 *  Days are calendar days of the workspace's zone, of 23 to 25 hours.
 *  Missing values: persons whose day N is not over are left out and counted as `young`; messages of nobody are counted apart.
 *  Source: own definition; interval by Wilson (stats/wilson).
 */
const compute = (f: Retention, c: FigureContext): FigureOf<'retention'> => {
  const days = columnDays(f.day);
  const starts = rowsOfStep(c, f.start);
  const time = c.table.time.raw;
  const { personOfMessage } = c;
  const count = personCount(c);
  const firstAt = new Float64Array(count).fill(Infinity);
  let unattributed = 0;
  let earliest = c.now;
  for (let i = 0; i < starts.length; i++) {
    const row = starts[i]!;
    const p = personOfMessage[row]!;
    if (p < 0) unattributed++;
    else if (time[row]! < firstAt[p]!) firstAt[p] = time[row]!;
    if (time[row]! < earliest) earliest = time[row]!;
  }
  const { timeZone, weekStartsOn } = c.settings;
  const calendar = periodsBetween('day', Math.min(earliest, c.now - f.overDays * DAY_MS), c.now, timeZone, weekStartsOn);
  const today = calendar.find(c.now);
  const cohortFrom = calendar.find(Math.max(calendar.starts[0]!, c.now - f.overDays * DAY_MS));
  const startDay = new Int32Array(count).fill(-1);
  for (let p = 0; p < count; p++) if (firstAt[p]! < Infinity) startDay[p] = calendar.find(firstAt[p]!);
  // For each person a bit for each column on which they came back, and the last day of all.
  const back = new Uint8Array(count);
  const lastBack = new Int32Array(count).fill(-1);
  const bitOfOffset = new Map(days.map((d, i) => [d, 1 << i]));
  const returns = rowsOfStep(c, f.returning, -Infinity, false);
  for (let i = 0; i < returns.length; i++) {
    const row = returns[i]!;
    const p = personOfMessage[row]!;
    if (p < 0 || startDay[p]! < cohortFrom) continue;
    const t = time[row]!;
    if (t < calendar.starts[0]!) continue;
    const d = calendar.find(t);
    if (d > lastBack[p]!) lastBack[p] = d;
    back[p]! |= bitOfOffset.get(d - startDay[p]!) ?? 0;
  }
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
    for (let i = 0; i < days.length; i++) {
      const n = days[i]!;
      if (d + n >= today) {
        if (n === f.day) young++;
        continue;
      }
      const cell = row * days.length + i;
      eligible[cell]!++;
      if (f.mode === 'on day' ? back[p]! & (1 << i) : lastBack[p]! >= d + n) returned[cell]!++;
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
  };
};

const MODES = ['on day', 'on or after day'] as const;

export const retention: FormulaDefinition<'retention'> = {
  type: 'retention',
  title: 'Retention',
  asks: 'Of those who began, how many came back on day N?',
  start: ([start = EMPTY_STEP, returning = start]) => ({
    type: 'retention',
    start,
    returning,
    day: 14,
    mode: 'on or after day',
    overDays: 56,
  }),
  open: () => undefined,
  named: () => [],
  parts: (f) => [
    words('Of persons whose first '),
    eventPart('Start', f.start, (start) => ({ ...f, start })),
    words(' fell in the last '),
    numberPart('Days looked at', f.overDays, 1, 3660, (overDays) => ({ ...f, overDays })),
    words(' days, the share with '),
    eventPart('Return', f.returning, (returning) => ({ ...f, returning })),
    words(' '),
    choicePart('When', f.mode, MODES, String, (mode) => ({ ...f, mode })),
    words(' '),
    numberPart('Day', f.day, 1, 365, (day) => ({ ...f, day })),
  ],
  compute,
};
