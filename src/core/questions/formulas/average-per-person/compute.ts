/** How the figure of “average per person” is worked out, and which of its numbers leads. */
import { Bitset } from '../../../table/bitset';
import { periodsBetween } from '../../calendar';
import type { AveragePoint, FigureContext, FigureOf } from '../../figure';
import { type AveragePerPerson } from '../../formula';
import { addPersons, cuts, firstTime, outsideOf, personCount, select, selectAny } from '../../select';
import type { FormulaComputation } from '../../definition';

/** Messages of an event over distinct persons, per calendar period; the denominator is a stated choice: persons with the event, or
 *  persons with any of the events that make active.
 *  Shape: one point for each period from the first message to now; the value is `undefined` where nobody is in the denominator.
 *  Missing values: messages of nobody are left out of the numerator, as they are of the denominator, and counted apart.
 */
const compute = (f: AveragePerPerson, c: FigureContext): FigureOf<'average per person'> => {
  const own = select(c, f.event);
  const base = f.per === 'active persons' ? selectAny(c, f.active, -Infinity, false) : [own];
  const first = firstTime(c, [own, ...base]);
  if (first === undefined)
    return {
      type: 'average per person',
      points: [],
      latest: undefined,
      messages: 0,
      unattributed: 0,
      outside: outsideOf(c, [own], -Infinity),
    };
  const { timeZone, weekStartsOn } = c.settings;
  const periods = periodsBetween(f.period, first, c.now, timeZone, weekStartsOn);
  const capacity = personCount(c);
  const messages = new Float64Array(periods.count);
  let unattributed = 0;
  const at = cuts(own, periods.starts);
  for (let k = 0; k < periods.count; k++)
    for (let i = at[k]!; i < at[k + 1]!; i++)
      if (own.person[i]! < 0) unattributed++;
      else messages[k]!++;
  const persons: (Bitset | undefined)[] = new Array<undefined>(periods.count).fill(undefined);
  for (const v of base) {
    const of = cuts(v, periods.starts);
    for (let k = 0; k < periods.count; k++)
      if (of[k]! < of[k + 1]!) addPersons((persons[k] ??= new Bitset(capacity)), v, of[k]!, of[k + 1]!);
  }
  const points = Array.from({ length: periods.count }, (_, k): AveragePoint => {
    const n = persons[k]?.size ?? 0;
    return { ...periods.span(k, c.now), persons: n, messages: messages[k]!, value: n === 0 ? undefined : messages[k]! / n };
  });
  return {
    type: 'average per person',
    points,
    latest: points.findLast((p) => p.complete),
    messages: at[periods.count]! - at[0]!,
    unattributed,
    outside: outsideOf(c, [own], periods.starts[0]!),
  };
};

export const averagePerPersonComputation: FormulaComputation<'average per person'> = {
  type: 'average per person',
  compute,
  headline: (f) => ({ value: f.latest?.value, interval: undefined }),
};
