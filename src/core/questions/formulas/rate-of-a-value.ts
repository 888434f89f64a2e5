import { compileConditions } from '../../table/matcher';
import { wilson } from '../../stats/wilson';
import { Bitset } from '../../table/bitset';
import { periodsBetween } from '../calendar';
import type { FormulaDefinition } from '../definition';
import type { FigureContext, FigureOf, RatePoint } from '../figure';
import { DAY_MS, EMPTY_STEP, isArithmetic, isUnary, type RateOfValue } from '../formula';
import { cuts, personCount, select, unattributedIn, userValuesIn } from '../select';
import { choicePart, eventPart, numberPart, words } from '../sentence';

/** Messages (or persons) whose property fulfils a predicate over all with the event, within the last `overDays` days, and by week.
 *  Units: share 0..1, `undefined` without any. A person fulfils it with at least one message that does.
 *  Missing values: a message without the property does not fulfil it, except "is absent"; messages of nobody count for no person.
 *  Source: own definition; interval by Wilson (stats/wilson).
 */
const compute = (f: RateOfValue, c: FigureContext): FigureOf<'rate of a value'> => {
  const since = c.now - f.overDays * DAY_MS;
  const own = select(c, f.event, since);
  const test = compileConditions(c.table, [f.condition], (name) => userValuesIn(c, name))!;
  const { timeZone, weekStartsOn } = c.settings;
  const periods = periodsBetween('week', since, c.now, timeZone, weekStartsOn);
  const capacity = personCount(c);
  const byPerson = f.of === 'persons';
  const of = new Float64Array(periods.count);
  const hits = new Float64Array(periods.count);
  const all = new Bitset(capacity);
  const allHits = new Bitset(capacity);
  let hitMessages = 0;
  const at = cuts(own, periods.starts);
  for (let k = 0; k < periods.count; k++) {
    const [from, to] = [at[k]!, at[k + 1]!];
    if (!byPerson) {
      of[k] = to - from;
      for (let i = from; i < to; i++) if (test(own.rows[i]!)) hits[k]!++;
      hitMessages += hits[k]!;
      continue;
    }
    const persons = new Bitset(capacity);
    const fulfilling = new Bitset(capacity);
    for (let i = from; i < to; i++) {
      const p = own.person[i]!;
      if (p < 0) continue;
      persons.add(p);
      if (test(own.rows[i]!)) fulfilling.add(p);
    }
    of[k] = persons.size;
    hits[k] = fulfilling.size;
    all.addAll(persons);
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
    unattributed: unattributedIn(own),
  };
};

export const rateOfValue: FormulaDefinition<'rate of a value'> = {
  type: 'rate of a value',
  title: 'Rate of a value',
  asks: 'In what share of the messages, or for how many persons, is a value so?',
  start: ([event = EMPTY_STEP]) => ({
    type: 'rate of a value',
    event: { ...event, where: [] },
    condition: event.where[0] ?? { property: '', is: '' },
    of: 'messages',
    overDays: 28,
  }),
  open: (f) => (f.condition.property.trim() === '' ? 'the property that is looked at is not chosen' : undefined),
  named: (f) =>
    f.condition.of === 'user property'
      ? []
      : [
          {
            eventName: f.event.eventName,
            name: f.condition.property,
            numeric: isArithmetic(f.condition.op),
            ...(isUnary(f.condition.op) ? {} : { sample: f.condition.is }),
          },
        ],
  parts: (f) => [
    words('The share of '),
    choicePart('Of', f.of, ['messages', 'persons'] as const, String, (of) => ({ ...f, of })),
    words(' of '),
    eventPart('Event', f.event, (event) => ({ ...f, event })),
    words(' in which '),
    { part: 'condition', eventName: f.event.eventName, condition: f.condition, set: (condition) => ({ ...f, condition }) },
    words(', over the last '),
    numberPart('Days looked at', f.overDays, 1, 3660, (overDays) => ({ ...f, overDays })),
    words(' days'),
  ],
  compute,
};
