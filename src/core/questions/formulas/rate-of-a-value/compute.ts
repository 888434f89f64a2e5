/** How the figure of “rate of a value” is worked out, and which of its numbers leads. */
import type { EventView } from '../../../table/event-view';
import { compileConditions, truthOf } from '../../../table/matcher';
import { wilson } from '../../../stats/wilson';
import { Bitset } from '../../../table/bitset';
import { periodsBetween } from '../../calendar';
import type { FigureContext, FigureOf, RatePoint } from '../../figure';
import { type Condition, type RateOfValue } from '../../formula';
import { addJudged, cuts, outsideOf, personCount, personsOfStretch, select, unattributedIn, userValuesIn, valuesIn } from '../../select';
import { DAY_MS } from '../../../time';
import type { FormulaComputation } from '../../definition';

/** For each message of a view an index; `truth`, one place further on, says whether it fulfils a condition: 1 or 0. */
const judgedIn = (c: FigureContext, v: EventView, condition: Condition): { index: Int32Array; truth: Uint8Array } => {
  const index = condition.of === 'user property' ? undefined : valuesIn(c, v, condition.property);
  if (index) return { index, truth: truthOf(c.people.table.propertyOf(v.eventName ?? '', condition.property)!.values.values, condition) };
  const test = compileConditions(c.people.table, v.eventName ?? '', [condition], (name) => userValuesIn(c, name))!;
  return { index: v.rows.map((row) => (test(row) ? 0 : -1)), truth: Uint8Array.of(0, 1) };
};

/** Messages (or persons) whose property fulfils a predicate over all with the event, within the last `overDays` days, and by week.
 *  Units: share 0..1, `undefined` without any. A person fulfils it with at least one message that does.
 *  Missing values: a message without the property does not fulfil it, except "is absent"; messages of nobody count for no person.
 *  Source: own definition; interval by Wilson (stats/wilson).
 */
const compute = (f: RateOfValue, c: FigureContext): FigureOf<'rate of a value'> => {
  const since = c.now - f.overDays * DAY_MS;
  const own = select(c, f.event, since);
  const { index, truth } = judgedIn(c, own, f.condition);
  const { timeZone, weekStartsOn } = c.settings;
  // All that is asked for counts, so all weeks of it are told: by the bound of a formula they are some five hundred.
  const periods = periodsBetween('week', since, c.now, timeZone, weekStartsOn, Infinity);
  const capacity = personCount(c);
  const byPerson = f.of === 'persons';
  const of = new Float64Array(periods.count);
  const hits = new Float64Array(periods.count);
  const all = new Bitset(capacity);
  const allHits = new Bitset(capacity);
  let hitMessages = 0;
  let unattributed = 0;
  const at = cuts(own, periods.starts);
  for (let k = 0; k < periods.count; k++) {
    const [from, to] = [at[k]!, at[k + 1]!];
    if (!byPerson) {
      of[k] = to - from;
      for (let i = from; i < to; i++) hits[k]! += truth[index[i]! + 1]!;
      hitMessages += hits[k]!;
      continue;
    }
    const stretch = personsOfStretch(c, own, from, to);
    const fulfilling = new Bitset(capacity);
    addJudged(fulfilling, own, index, truth, from, to);
    unattributed += stretch.unattributed;
    of[k] = stretch.persons.size;
    hits[k] = fulfilling.size;
    all.addAll(stretch.persons);
    allHits.addAll(fulfilling);
  }
  const total = byPerson ? all.size : own.rows.length;
  const n = byPerson ? allHits.size : hitMessages;
  const points = Array.from({ length: periods.count }, (_, k): RatePoint => ({
    ...periods.span(k, c.now),
    hits: hits[k]!,
    of: of[k]!,
  }));
  return {
    type: 'rate of a value',
    of: f.of,
    hits: n,
    total,
    share: total === 0 ? undefined : n / total,
    interval: wilson(n, total),
    points,
    unattributed: byPerson ? unattributed : unattributedIn(own),
    outside: outsideOf(c, [own], -Infinity),
  };
};

export const rateOfValueComputation: FormulaComputation<'rate of a value'> = {
  type: 'rate of a value',
  compute,
  headline: (f) => ({ value: f.share, interval: f.interval }),
};
