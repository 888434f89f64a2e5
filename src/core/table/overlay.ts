/** A table with some of what its messages say said otherwise: columns that differ beside those that are shared, the rows in their places. */
import { PathMap, refKey } from '../plan/property-path';
import { Bitset } from './bitset';
import { Dictionary, type IndexColumn } from './column';
import { MessageTable, type ScalarColumn, type Value } from './message-table';

export interface Otherwise {
  /** Rows that are as if they had never come: of no event and of nobody. */
  readonly leftOut: ReadonlySet<number>;
  /** Row → when it happened, UTC epoch ms. */
  readonly times: ReadonlyMap<number, number>;
  /** Name under which messages came → the event that they are. */
  readonly names: ReadonlyMap<string, string>;
  /** Property, by the key of its path → row → value. */
  readonly values: ReadonlyMap<string, ReadonlyMap<number, Value>>;
}

const without = (column: IndexColumn, rows: Iterable<number>): IndexColumn => {
  let copy: IndexColumn | undefined;
  for (const row of rows) if (column.get(row) >= 0) (copy ??= column.copy()).set(row, -1);
  return copy ?? column;
};

const withValues = (p: ScalarColumn, values: ReadonlyMap<number, Value>): ScalarColumn => {
  const own: ScalarColumn = { ...p, column: p.column.copy(), values: new Dictionary(p.values), nested: new Map(p.nested) };
  for (const [row, v] of values) own.column.set(row, MessageTable.placeOf(own, v));
  return own;
};

/** The rows of the events that differ, by name. */
const rowsOtherwise = (table: MessageTable, { leftOut, names }: Otherwise): Map<string, Int32Array> => {
  const moved = new Map<string, Int32Array[]>();
  for (const [from, to] of names) moved.set(to, [...(moved.get(to) ?? []), table.rowsOf(from)]);
  const out = new Map<string, Int32Array>();
  for (const name of names.keys()) out.set(name, new Int32Array(0));
  for (const [name, others] of moved) {
    const own = table.rowsOf(name);
    const all = new Int32Array(others.reduce((n, r) => n + r.length, own.length));
    let at = 0;
    for (const rows of [own, ...others]) {
      all.set(rows, at);
      at += rows.length;
    }
    out.set(name, all.sort());
  }
  const touched = new Set<string>();
  const gone = new Bitset(table.length);
  for (const row of leftOut) {
    gone.add(row);
    const name = table.names.values[table.name.get(row)];
    if (name !== undefined) touched.add(names.get(name) ?? name);
  }
  for (const name of touched) {
    const all = out.get(name) ?? table.rowsOf(name);
    const stay = new Int32Array(all.length);
    let n = 0;
    for (const row of all) if (!gone.has(row)) stay[n++] = row;
    out.set(name, stay.subarray(0, n));
  }
  return out;
};

/** The table as messages say otherwise.
 *  Shape: as many rows as it has now, each in its place; names, identifiers and values of the first table keep their numbers. What is left out is a row
 *  that no event has and that carries no identifier; what else its columns say is said of nobody. Not to be written to.
 *  Cost: one column copied for each that differs.
 */
export const overlaid = (table: MessageTable, otherwise: Otherwise): MessageTable => {
  const { leftOut, times, names, values } = otherwise;
  // A name that nothing came under has a place only here.
  const known = [...names.values()].every((n) => table.names.find(n) >= 0) ? table.names : new Dictionary(table.names);
  const places = new Map([...names].map(([from, to]) => [from, known.intern(to)]));
  const over = table.over(
    {
      names: known,
      ...(times.size > 0 ? { time: table.time.but(times) } : {}),
      ...(values.size > 0
        ? {
            properties: new PathMap(
              [...table.properties].map(([ref, p]): [typeof ref, ScalarColumn] => {
                const own = values.get(refKey(ref));
                return [ref, own ? withValues(p, own) : p];
              }),
            ),
          }
        : {}),
    },
    rowsOtherwise(table, otherwise),
  );
  const named = (): IndexColumn => {
    const name = table.name.copy();
    for (const [from, place] of places) for (const row of table.rowsOf(from)) name.set(row, place);
    for (const row of leftOut) if (name.get(row) >= 0) name.set(row, -1);
    return name;
  };
  const identified = (): MessageTable['ids'] => new Map([...table.ids].map(([kind, column]) => [kind, without(column, leftOut)]));
  if (leftOut.size > 0 || names.size > 0) madeWhenAsked(over, 'name', named);
  if (leftOut.size > 0) madeWhenAsked(over, 'ids', identified);
  return over;
};

/** Most who read an event's rows need neither everybody's names nor their identifiers. */
const madeWhenAsked = <K extends 'name' | 'ids'>(table: MessageTable, key: K, make: () => MessageTable[K]): void => {
  let made: MessageTable[K] | undefined;
  Object.defineProperty(table, key, { get: () => (made ??= make()) });
};
