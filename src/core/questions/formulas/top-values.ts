import { groupRows } from '../../table/sessions';
import { Bitset } from '../../table/bitset';
import type { FormulaDefinition } from '../definition';
import type { FigureContext, FigureOf, RankedValue } from '../figure';
import { DAY_MS, EMPTY_STEP, type TopValues } from '../formula';
import { personCount, rowsOfStep } from '../select';
import { choicePart, eventPart, numberPart, words } from '../sentence';

const SHOWN = 25;

/** The values of a property, ranked by messages, persons or the sum of another property, with the share of each.
 *  Shape: the first 25; ties by the order of first sight. Shares are of the whole: of all messages that carry the property, of all
 *  persons with it (these shares may add up to more than one, since a person may have several values), or of the sum.
 *  Missing values: messages without the property are counted as `absent`; without a number to be summed they add nothing.
 */
const compute = (f: TopValues, c: FigureContext): FigureOf<'top values'> => {
  const rows = rowsOfStep(c, f.event, c.now - f.overDays * DAY_MS);
  const { table, personOfMessage } = c;
  const column = table.properties.get(f.property);
  let unattributed = 0;
  for (let i = 0; i < rows.length; i++) if (personOfMessage[rows[i]!]! < 0) unattributed++;
  if (!column) return { type: 'top values', ranked: [], distinct: 0, total: 0, absent: rows.length, unattributed };
  const raw = column.column.rawFor(table.length);
  const values = column.values.values;
  const { order, start } = groupRows(rows, (row) => raw[row]!, values.length, table.time.raw);
  const summed = f.measure === 'sum' ? table.properties.get(f.sumOf ?? '') : undefined;
  const summedRaw = summed?.column.rawFor(table.length);
  const capacity = personCount(c);
  const everybody = new Bitset(capacity);
  // The value that a person was last counted for: rows come value by value, so that tells a person seen before.
  const countedFor = new Int32Array(capacity).fill(-1);
  const all: { value: number; messages: number; persons: number; sum: number }[] = [];
  for (let v = 0; v < values.length; v++) {
    const messages = start[v + 1]! - start[v]!;
    if (messages === 0) continue;
    let persons = 0;
    let sum = 0;
    for (let i = start[v]!; i < start[v + 1]!; i++) {
      const row = order[i]!;
      const p = personOfMessage[row]!;
      if (p >= 0) {
        everybody.add(p);
        if (countedFor[p] !== v) {
          countedFor[p] = v;
          persons++;
        }
      }
      const s = summed && summedRaw![row]! >= 0 ? summed.values.values[summedRaw![row]!] : undefined;
      if (typeof s === 'number') sum += s;
    }
    all.push({ value: v, messages, persons, sum });
  }
  const amountOf = (x: (typeof all)[number]): number =>
    f.measure === 'messages' ? x.messages : f.measure === 'persons' ? x.persons : x.sum;
  const total = f.measure === 'persons' ? everybody.size : all.reduce((n, x) => n + amountOf(x), 0);
  const ranked = all
    .sort((a, b) => amountOf(b) - amountOf(a) || a.value - b.value)
    .slice(0, SHOWN)
    .map((x): RankedValue => ({
      value: values[x.value]!,
      amount: amountOf(x),
      share: total === 0 ? 0 : amountOf(x) / total,
      messages: x.messages,
      persons: x.persons,
    }));
  return { type: 'top values', ranked, distinct: all.length, total, absent: rows.length - order.length, unattributed };
};

const MEASURES = ['messages', 'persons', 'sum'] as const;
const MEASURE_TEXT = { messages: 'messages', persons: 'persons', sum: 'the sum of' } as const;

export const topValues: FormulaDefinition<'top values'> = {
  type: 'top values',
  title: 'Top values',
  asks: 'Which values come most often, or have most persons or the greatest sum?',
  start: ([event = EMPTY_STEP]) => ({ type: 'top values', event, property: '', measure: 'messages', overDays: 28 }),
  open: (f) =>
    f.property.trim() === ''
      ? 'the property to be ranked is not chosen'
      : f.measure === 'sum' && !f.sumOf?.trim()
        ? 'the property to be summed is not chosen'
        : undefined,
  named: (f) => [
    { eventName: f.event.eventName, name: f.property, numeric: false },
    ...(f.measure === 'sum' ? [{ eventName: f.event.eventName, name: f.sumOf ?? '', numeric: true }] : []),
  ],
  parts: (f) => {
    const property = (label: string, value: string, numeric: boolean, set: (name: string) => TopValues) =>
      ({ part: 'property', label, eventName: f.event.eventName, of: 'property', numeric, value, set }) as const;
    return [
      words('The values of '),
      property('Property', f.property, false, (name) => ({ ...f, property: name })),
      words(' on '),
      eventPart('Event', f.event, (event) => ({ ...f, event })),
      words(', ranked by '),
      choicePart(
        'Ranked by',
        f.measure,
        MEASURES,
        (m) => MEASURE_TEXT[m],
        (measure) => ({ ...f, measure }),
      ),
      ...(f.measure === 'sum' ? [words(' '), property('Summed property', f.sumOf ?? '', true, (sumOf) => ({ ...f, sumOf }))] : []),
      words(', over the last '),
      numberPart('Days looked at', f.overDays, 1, 3660, (overDays) => ({ ...f, overDays })),
      words(' days'),
    ];
  },
  compute,
};
