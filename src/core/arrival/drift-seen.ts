/** What was seen of each event, property, type and value before and after a moment, carried on as messages come. */
import { following } from '../table/following';
import { typeWord, type MessageTable, type ScalarColumn } from '../table/message-table';
import type { PropertyRef } from '../plan/property-path';

/** More values than this are free text, whose values come and go. */
const MAX_VALUES = 60;

export interface Sight {
  before: number;
  after: number;
  firstAfter: number;
  firstRow: number;
  lastBefore: number;
  lastRow: number;
}

const sight = (): Sight => ({ before: 0, after: 0, firstAfter: Infinity, firstRow: -1, lastBefore: -Infinity, lastRow: -1 });

/** Puts what was seen of a part to the whole. Of equal moments the row that came first counts. */
const fold = (whole: Sight, part: Sight): void => {
  whole.before += part.before;
  whole.after += part.after;
  if (part.lastBefore > whole.lastBefore || (part.lastBefore === whole.lastBefore && part.lastRow < whole.lastRow))
    [whole.lastBefore, whole.lastRow] = [part.lastBefore, part.lastRow];
  if (part.firstAfter < whole.firstAfter || (part.firstAfter === whole.firstAfter && part.firstRow < whole.firstRow))
    [whole.firstAfter, whole.firstRow] = [part.firstAfter, part.firstRow];
};

/** Index of an event's name → the properties that any message of it carries, in the order of the table's properties. */
const sightedProperties = following(
  () => [] as Set<ScalarColumn>[],
  (state, table, from, to) => {
    for (const [, c] of table.properties)
      for (let row = from; row < to; row++) {
        const name = table.name.get(row);
        if (name >= 0 && c.column.get(row) >= 0) (state[name] ??= new Set()).add(c);
      }
  },
);
const propertiesCarried = (table: MessageTable): (readonly [PropertyRef, ScalarColumn])[][] => {
  const order = [...table.properties];
  return sightedProperties(table).map((own) => order.filter(([, c]) => own.has(c)));
};

/** What one property of an event and source was, on either side. */
interface Carried {
  /** Of many values none is told apart: `whole` and `types` are all that is kept. */
  isText: boolean;
  readonly whole: Sight;
  readonly types: Map<string, Sight>;
  readonly byValue: Map<number, Sight>;
}

interface Part {
  readonly all: Sight;
  readonly properties: Map<ScalarColumn, Carried & { readonly property: PropertyRef }>;
}

export interface Size {
  before: number;
  after: number;
}

export interface Seen {
  readonly size: Size;
  readonly sources: Size[];
  /** By the index of the name, then of the source. */
  readonly parts: Map<number, Map<number, Part>>;
  /** Rows that say they happened after they were received: they count when their time has come. */
  ahead: number[];
}

const made = <K, V>(m: Map<K, V>, key: K, make: () => V): V => {
  let found = m.get(key);
  if (found === undefined) m.set(key, (found = make()));
  return found;
};

export const typeOfValue = (c: ScalarColumn, v: number): string => typeWord(c.values.values[v]!);

/** Whole and types of a property, put together out of its values where these are told apart. */
export const sumsOf = (
  c: ScalarColumn,
  { isText, whole, types, byValue }: Carried,
): { readonly whole: Sight; readonly types: ReadonlyMap<string, Sight> } => {
  if (isText) return { whole, types };
  const sums = { whole: sight(), types: new Map<string, Sight>() };
  for (const [v, s] of byValue) {
    fold(sums.whole, s);
    fold(made(sums.types, typeOfValue(c, v), sight), s);
  }
  return sums;
};

/** Takes rows into what was seen; those before `from` are left out. */
const takeRows = (state: Seen, table: MessageTable, rows: Int32Array, from: number, since: number): void => {
  const time = table.time.raw;
  const note = (s: Sight, row: number): void => {
    const at = time[row]!;
    if (at < since) {
      s.before++;
      if (at > s.lastBefore || (at === s.lastBefore && row < s.lastRow)) [s.lastBefore, s.lastRow] = [at, row];
    } else {
      s.after++;
      if (at < s.firstAfter || (at === s.firstAfter && row < s.firstRow)) [s.firstAfter, s.firstRow] = [at, row];
    }
  };
  while (state.sources.length < table.sources.values.length) state.sources.push({ before: 0, after: 0 });
  const byPart = new Map<number, Map<number, number[]>>();
  for (const row of rows) {
    if (time[row]! < from) continue;
    const source = table.source.get(row);
    const side = time[row]! < since ? 'before' : 'after';
    state.size[side]++;
    state.sources[source]![side]++;
    const name = table.name.get(row);
    if (name < 0) continue;
    const ofPart = made(
      made(byPart, name, () => new Map<number, number[]>()),
      source,
      (): number[] => [],
    );
    ofPart.push(row);
  }
  const carriedBy = propertiesCarried(table);
  for (const [name, bySource] of byPart)
    for (const [source, own] of bySource) {
      const part = made(
        made(state.parts, name, () => new Map<number, Part>()),
        source,
        (): Part => ({ all: sight(), properties: new Map() }),
      );
      for (const row of own) note(part.all, row);
      for (const [property, c] of carriedBy[name] ?? []) {
        const p = made(part.properties, c, () => ({
          property,
          isText: false,
          whole: sight(),
          types: new Map<string, Sight>(),
          byValue: new Map<number, Sight>(),
        }));
        for (const row of own) {
          const v = c.column.get(row);
          if (v < 0) continue;
          if (p.isText) {
            note(p.whole, row);
            note(made(p.types, typeOfValue(c, v), sight), row);
            continue;
          }
          note(made(p.byValue, v, sight), row);
          if (p.byValue.size <= MAX_VALUES) continue;
          // What was noted so far goes to the types, and the others with it.
          const { whole, types } = sumsOf(c, p);
          p.isText = true;
          fold(p.whole, whole);
          for (const [type, t] of types) fold(made(p.types, type, sight), t);
          p.byValue.clear();
        }
      }
    }
};

const seenOf = following(
  (): Seen => ({ size: { before: 0, after: 0 }, sources: [], parts: new Map(), ahead: [] }),
  (state, table, begin, end, key) => {
    const [from, since] = JSON.parse(key) as [number, number];
    const time = table.time.raw;
    const { received } = table;
    const rows: number[] = [];
    for (let row = begin; row < end; row++)
      if (time[row]! > received.get(row)) state.ahead.push(row);
      else if (time[row]! >= from) rows.push(row);
    takeRows(state, table, Int32Array.from(rows), from, since);
  },
  // The last days, and since a version.
  2,
);

/** What was seen from `from` up to now, on either side of `since`; UTC epoch ms, by the messages' own time. */
export const seenSince = (table: MessageTable, from: number, since: number, now: number): Seen => {
  const time = table.time.raw;
  const state = seenOf(table, JSON.stringify([from, since]));
  const due = state.ahead.filter((row) => time[row]! <= now);
  if (due.length > 0) {
    state.ahead = state.ahead.filter((row) => time[row]! > now);
    takeRows(state, table, Int32Array.from(due), from, since);
  }
  return state;
};
