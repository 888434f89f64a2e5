/** How the figure of “top values” is worked out, and which of its numbers leads. */
import { groupRows } from '../../../table/sessions';
import { Bitset } from '../../../table/bitset';
import { isScalar, shownValue } from '../../../table/message-table';
import type { FigureContext, FigureOf, RankedValue } from '../../figure';
import { type TopValues } from '../../formula';
import { outsideOf, personCount, select, unattributedIn, valuesIn } from '../../select';
import { DAY_MS } from '../../../time';
import type { FormulaComputation } from '../../definition';

const SHOWN = 25;

/** Beyond so many bits for all values together, the rows are laid out by value instead. */
const MAX_BITS = 1 << 28;

/** Distinct persons of each value, and of all. */
const personsByValue = (given: Int32Array, person: Int32Array, values: number, capacity: number) => {
  const everybody = new Bitset(capacity);
  const persons = new Float64Array(values);
  if (values * capacity <= MAX_BITS) {
    // Which message is a person's first with a value is hard to guess: every bit is set without asking, and all are counted at the end.
    const sets = Array.from({ length: values }, () => new Bitset(capacity));
    const words = sets.map((s) => s.words);
    for (let i = 0; i < given.length; i++) {
      const v = given[i]!;
      const p = person[i]!;
      if (v < 0 || p < 0) continue;
      words[v]![p >>> 5]! |= 1 << (p & 31);
    }
    for (const [v, set] of sets.entries()) {
      set.count();
      persons[v] = set.size;
      everybody.addAll(set);
    }
    return { persons, everybody: everybody.size };
  }
  const positions = Int32Array.from({ length: given.length }, (_, i) => i);
  const { order, start } = groupRows(positions, (i) => given[i]!, values, Float64Array.from(positions));
  // The value that a person was last counted for: rows come value by value, so that tells a person seen before.
  const countedFor = new Int32Array(capacity).fill(-1);
  for (let v = 0; v < values; v++)
    for (let k = start[v]!; k < start[v + 1]!; k++) {
      const p = person[order[k]!]!;
      if (p < 0 || countedFor[p] === v) continue;
      countedFor[p] = v;
      persons[v]!++;
      everybody.add(p);
    }
  return { persons, everybody: everybody.size };
};

/** The values of a property, ranked by messages, persons or the sum of another property, with the share of each.
 *  Shape: the first 25; ties by the order of first sight. Shares are of the whole: of all messages that carry the property, of all
 *  persons with it (these shares may add up to more than one, since a person may have several values), or of the sum.
 *  Missing values: messages without the property are counted as `absent`; without a number to be summed they add nothing.
 */
const compute = (f: TopValues, c: FigureContext): FigureOf<'top values'> => {
  const own = select(c, f.event, c.now - f.overDays * DAY_MS);
  const { rows, person } = own;
  const { table } = c.people;
  const column = table.propertyOf(f.event.eventName, f.property);
  const unattributed = unattributedIn(own);
  const outside = outsideOf(c, [own], -Infinity);
  if (!column) return { type: 'top values', ranked: [], distinct: 0, total: 0, absent: rows.length, nested: 0, unattributed, outside };
  const given = valuesIn(c, own, f.property)!;
  const values = column.values.values;
  const summed = f.measure === 'sum' ? table.propertyOf(f.event.eventName, f.sumOf ?? '') : undefined;
  const summedGiven = summed && valuesIn(c, own, f.sumOf ?? '');
  const numbers = Float64Array.from(summed?.values.values ?? [], (v) => (typeof v === 'number' ? v : 0));
  const sums = new Float64Array(values.length);
  // One place further on: the first is for "absent".
  const counts = new Int32Array(values.length + 1);
  for (let i = 0; i < given.length; i++) counts[given[i]! + 1]!++;
  const absent = counts[0]!;
  const messages = counts.subarray(1);
  let nested = 0;
  values.forEach((v, i) => {
    if (isScalar(v)) return;
    nested += messages[i]!;
    messages[i] = 0;
  });
  const scalars = nested === 0 ? given : given.map((v) => (v >= 0 && isScalar(values[v]) ? v : -1));
  if (summedGiven)
    for (let i = 0; i < scalars.length; i++) {
      const v = scalars[i]!;
      const s = summedGiven[i]!;
      if (v >= 0 && s >= 0) sums[v]! += numbers[s]!;
    }
  const { persons, everybody } = personsByValue(scalars, person, values.length, personCount(c));
  const all = values.flatMap((_, value) =>
    messages[value] === 0 ? [] : [{ value, messages: messages[value]!, persons: persons[value]!, sum: sums[value]! }],
  );
  const amountOf = (x: (typeof all)[number]): number =>
    f.measure === 'messages' ? x.messages : f.measure === 'persons' ? x.persons : x.sum;
  const total = f.measure === 'persons' ? everybody : all.reduce((n, x) => n + amountOf(x), 0);
  const ranked = all
    .sort((a, b) => amountOf(b) - amountOf(a) || a.value - b.value)
    .slice(0, SHOWN)
    .map((x): RankedValue => ({
      value: shownValue(values[x.value]!),
      amount: amountOf(x),
      share: total === 0 ? 0 : amountOf(x) / total,
      messages: x.messages,
      persons: x.persons,
    }));
  return { type: 'top values', ranked, distinct: all.length, total, absent, nested, unattributed, outside };
};

export const topValuesComputation: FormulaComputation<'top values'> = {
  type: 'top values',
  compute,
  headline: (f) => ({ value: f.ranked[0]?.amount, interval: undefined }),
};
