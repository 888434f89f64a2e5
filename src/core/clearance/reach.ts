/** What a question's figure looks at: which days, and whether it counts people. */
import { settingsOf, type Plan } from '../plan/plan';
import { periodsBetween } from '../questions/calendar';
import type { Formula } from '../questions/formula';
import { DAY_MS } from '../time';

/** UTC epoch ms. */
export interface Days {
  readonly from: number;
  readonly to: number;
}

/** The days that the headline is counted over: those that the formula names, else the last calendar period that is over and the one that is not. */
export const daysOf = (plan: Plan, f: Formula, now: number): Days => {
  if ('overDays' in f) return { from: now - f.overDays * DAY_MS, to: now };
  const { timeZone, weekStartsOn } = settingsOf(plan);
  const rolling = 'rollingDays' in f ? (f.rollingDays ?? 0) * DAY_MS : 0;
  const { starts, count } = periodsBetween(f.period, now - PERIOD_MS[f.period], now, timeZone, weekStartsOn);
  return { from: (starts[Math.max(0, count - 2)] ?? now) - rolling, to: now };
};

/** Long enough to reach into the period before the one that is not over. */
const PERIOD_MS = { day: 2 * DAY_MS, week: 9 * DAY_MS, month: 35 * DAY_MS };

/** Whether people are counted, rather than messages or what they carry. */
export const countsPeople = (f: Formula): boolean => {
  switch (f.type) {
    case 'total of a property':
      return false;
    case 'top values':
      return f.measure === 'persons';
    case 'rate of a value':
      return f.of === 'persons';
    default:
      return true;
  }
};
