import { Bitset } from '../../table/bitset';
import { periodsBetween } from '../calendar';
import type { FormulaDefinition } from '../definition';
import type { FigureContext, FigureOf, SeriesPoint } from '../figure';
import { PERIODS, type ActivePersons } from '../formula';
import { addPersons, cuts, firstTime, outsideOf, personCount, selectAny } from '../select';
import { choicePart, eventList, numberPart, words, type Part } from '../sentence';

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

const PERIOD_TEXTS = [...PERIODS.map((p) => `a calendar ${p}`), 'a rolling window'];

const period = (f: ActivePersons): Part[] => [
  choicePart('Period', f.rollingDays ? PERIOD_TEXTS[3]! : `a calendar ${f.period}`, PERIOD_TEXTS, String, (text) => {
    const { rollingDays: _, ...rest } = f;
    const chosen = PERIODS.find((p) => text === `a calendar ${p}`);
    return chosen ? { ...rest, period: chosen } : { ...rest, period: 'day', rollingDays: f.rollingDays ?? 28 };
  }),
  ...(f.rollingDays
    ? [words(' of '), numberPart('Days of the window', f.rollingDays, 2, 90, (n) => ({ ...f, rollingDays: n })), words(' days')]
    : []),
];

export const activePersons: FormulaDefinition<'active persons'> = {
  type: 'active persons',
  title: 'Active persons',
  asks: 'How many distinct persons did it, in each day, week or month?',
  start: (steps) => ({ type: 'active persons', events: steps.slice(0, 1), period: 'week' }),
  open: (f) => (f.events.length === 0 ? '“active” needs the event that makes a person active' : undefined),
  named: () => [],
  parts: (f) => [
    words('Persons with '),
    ...eventList(
      (i) => `Event ${i + 1}`,
      f.events,
      1,
      'or',
      (events) => ({ ...f, events }),
    ),
    words(' in '),
    ...period(f),
  ],
  compute,
};
