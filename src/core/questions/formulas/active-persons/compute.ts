/** How the figure of “active persons” is worked out, and which of its numbers leads. */
import { Bitset } from '../../../table/bitset';
import { periodsBetween } from '../../calendar';
import type { FigureContext, FigureOf, SeriesPoint } from '../../figure';
import { type ActivePersons } from '../../formula';
import { addPersons, cuts, firstTime, outsideOf, personCount, selectAny } from '../../select';
import type { FormulaComputation } from '../../definition';

/** Distinct persons with at least one of the events, per calendar period of the workspace's time zone; with `rollingDays` for each
 *  day over the so many calendar days that end with it.
 *  Shape: one point for each period from the first message of the events to now, of more than `MOST_PERIODS` the last; what is dated
 *  before or after them is counted as `outside`. A rolling point
 *  is complete when its day is over and so many days have been looked at.
 *  Missing values: a message without a usable identifier counts as a message, never as a person.
 *  Source: own definition; calendar periods by the workspace's zone.
 */
const compute = (f: ActivePersons, c: FigureContext): FigureOf<'active persons'> => {
  const views = selectAny(c, f.events);
  const first = firstTime(c, views);
  const rolling = f.rollingDays === undefined ? {} : { rollingDays: f.rollingDays };
  if (first === undefined)
    return {
      type: 'active persons',
      points: [],
      latest: undefined,
      messages: 0,
      unattributed: 0,
      outside: outsideOf(c, views, -Infinity),
      ...rolling,
    };
  const { timeZone, weekStartsOn } = c.settings;
  const periods = periodsBetween(f.rollingDays ? 'day' : f.period, first, c.now, timeZone, weekStartsOn);
  const capacity = personCount(c);
  const persons: (Bitset | undefined)[] = new Array<undefined>(periods.count).fill(undefined);
  const messages = new Float64Array(periods.count);
  let unattributed = 0;
  for (const v of views) {
    const at = cuts(v, periods.starts);
    for (let k = 0; k < periods.count; k++) {
      if (at[k] === at[k + 1]) continue;
      messages[k]! += at[k + 1]! - at[k]!;
      unattributed += addPersons((persons[k] ??= new Bitset(capacity)), v, at[k]!, at[k + 1]!);
    }
  }
  const back = f.rollingDays ?? 1;
  const points = Array.from({ length: periods.count }, (_, k): SeriesPoint => {
    const s = periods.span(k, c.now);
    if (back === 1) return { ...s, persons: persons[k]?.size ?? 0, messages: messages[k]! };
    const seen = new Bitset(capacity);
    let n = 0;
    for (let d = Math.max(0, k - back + 1); d <= k; d++) {
      if (persons[d]) seen.addAll(persons[d]!);
      n += messages[d]!;
    }
    return { ...s, persons: seen.size, messages: n, complete: s.complete && k >= back - 1 };
  });
  return {
    type: 'active persons',
    points,
    latest: points.findLast((p) => p.complete),
    messages: messages.reduce((n, x) => n + x, 0),
    unattributed,
    outside: outsideOf(c, views, periods.starts[0]!),
    ...rolling,
  };
};

export const activePersonsComputation: FormulaComputation<'active persons'> = {
  type: 'active persons',
  compute,
  headline: (f) => ({ value: f.latest?.persons, interval: undefined }),
};
