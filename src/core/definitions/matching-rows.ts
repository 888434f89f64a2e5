/** Which rows of the columns a definition takes. */
import { rowsBefore, type Column } from '../table/column';
import { following } from '../table/following';
import type { MessageTable, ScalarColumn } from '../table/message-table';
import { rowsOfKind } from '../table/kind-rows';
import type { UserValues } from '../table/matcher';
import type { PropertyRef } from '../plan/property-path';
import type { Condition, Definition, Group, Source } from './definition';
import { testOf } from './holds';
import { always, byRow, byValue, joined, kept, marksFor, sift, together, type Marks, type Part, type Sifted } from './marks';
import { pagePath, pageQuery } from './page-parts';

const NONE = new Int32Array(0);
/** Parts of sentences, and sources of several names, that are kept. */
const MOST_KNOWN = 32;

export interface MatchContext {
  readonly table: MessageTable;
  /** Of a source, for messages that do not say it themselves. */
  readonly environmentOf: (sourceId: string) => string;
  /** The user property that was in force at each message. */
  readonly userValues: (ref: PropertyRef) => UserValues;
  /** The rows of an event that is itself defined; `undefined` for one that arrives under its name. */
  readonly definedRows?: (eventName: string) => Int32Array | undefined;
  /** What messages have at a path, where the source is a definition that changes properties; as they were sent when left out. */
  readonly propertyOf?: (ref: PropertyRef) => ScalarColumn | undefined;
}

/** An empty text says nothing: a page, a release or an environment that is not told is absent. */
const told = (v: string): string | undefined => (v === '' ? undefined : v);

const partOf = (c: Condition, { table, environmentOf, userValues, propertyOf }: MatchContext): Part => {
  const holds = testOf(c);
  const onTexts = (column: Column, values: readonly string[], read: (v: string) => string = (v) => v): Part =>
    byValue(column, values.length, (i) => holds(told(read(values[i]!))), holds(undefined));
  const { subject } = c;
  switch (subject.of) {
    case 'event name':
      return onTexts(table.name, table.names.values);
    case 'source':
      return onTexts(table.source, table.sources.values);
    case 'release':
      return onTexts(table.release, table.releases.values);
    case 'page path':
      return onTexts(table.page, table.pages.values, pagePath);
    case 'page query':
      return onTexts(table.page, table.pages.values, pageQuery);
    case 'page address':
      return onTexts(table.page, table.pages.values);
    case 'environment': {
      const own = onTexts(table.environment, table.environments.values);
      const bySource = onTexts(table.source, table.sources.values, environmentOf);
      const said = byValue(table.environment, table.environments.values.length, () => true, false);
      return (rows) => {
        const [out, otherwise, is] = [own(rows), bySource(rows), said(rows)];
        for (let w = 0; w < out.length; w++) out[w] = (out[w]! & is[w]!) | (otherwise[w]! & ~is[w]!);
        return out;
      };
    }
    case 'property': {
      const p = propertyOf ? propertyOf(subject.name) : table.properties.get(subject.name);
      if (!p) return always(holds(undefined));
      const { values } = p.values;
      return byValue(p.column, values.length, (i) => holds(values[i]), holds(undefined));
    }
    case 'user property': {
      const user = userValues(subject.name);
      const truth = new Map<number, boolean>();
      return byRow((row) => {
        const v = user.at(row);
        let t = truth.get(v);
        if (t === undefined) truth.set(v, (t = holds(v < 0 ? undefined : user.values[v])));
        return t;
      });
    }
    default:
      return subject satisfies never;
  }
};

/** The parts of a group: its conditions, then its groups. */
const partsOf = (where: Group, c: MatchContext): Part[] => [
  ...where.conditions.map((x) => partOf(x, c)),
  ...where.groups.map((g) =>
    together(
      g.match,
      g.conditions.map((x) => partOf(x, c)),
    ),
  ),
];

const merged = (a: Int32Array, b: Int32Array): Int32Array => {
  if (a.length === 0 || b.length === 0) return a.length === 0 ? b : a;
  const out = new Int32Array(a.length + b.length);
  let [i, k, n] = [0, 0, 0];
  while (i < a.length && k < b.length) {
    const [x, y] = [a[i]!, b[k]!];
    out[n++] = x < y ? x : y;
    if (x <= y) i++;
    if (y <= x) k++;
  }
  const rest = i < a.length ? a.subarray(i) : b.subarray(k);
  out.set(rest, n);
  return out.subarray(0, n + rest.length);
};

/** Rows, ascending, put together so that each comes once. */
const united = (lists: readonly Int32Array[]): Int32Array => {
  // Two by two, so that no list is gone through more often than it must be.
  let left = lists;
  while (left.length > 1) left = left.flatMap((a, i) => (i % 2 === 1 ? [] : [merged(a, left[i + 1] ?? NONE)]));
  return left[0] ?? NONE;
};

const rowsFrom = (rows: Int32Array, from: number): Int32Array => rows.subarray(rowsBefore(rows, from).length);

/** What arrived under any of several names. */
const arrivedUnder = following(
  () => ({ rows: NONE }),
  (state, table, from, _to, key) => {
    const fresh = united((JSON.parse(key) as string[]).map((name) => rowsFrom(table.rowsOf(name), from)));
    const all = new Int32Array(state.rows.length + fresh.length);
    all.set(state.rows);
    all.set(fresh, state.rows.length);
    state.rows = all;
  },
  MOST_KNOWN,
);

/** The rows that a source offers, ascending, from a row on. */
export const sourceRows = (source: Source, { table, definedRows }: Pick<MatchContext, 'table' | 'definedRows'>, from = 0): Int32Array => {
  if (source.of !== 'events') return rowsFrom(rowsOfKind(table, source.of === 'views' ? 'view' : 'interaction'), from);
  const defined = source.names.map((name) => definedRows?.(name));
  if (source.names.length > 1 && defined.every((d) => d === undefined))
    return rowsFrom(arrivedUnder(table, JSON.stringify(source.names)).rows, from);
  return united(source.names.map((name, i) => rowsFrom(defined[i] ?? table.rowsOf(name), from)));
};

/** The rows among others for which a group holds, ascending. */
export const rowsWhere = (rows: Int32Array, where: Group, c: MatchContext): Int32Array => {
  const parts = partsOf(where, c);
  // Each part looks only at what the ones before it let pass.
  if (where.match === 'all') return parts.reduce((left, part) => kept(left, part(left)), rows);
  return kept(rows, together('any', parts)(rows));
};

/** What no plain condition asks for. */
const OF_THE_COLUMNS = { environmentOf: (): string => '', userValues: (): UserValues => ({ at: () => -1, values: [] }) };

/** The parts of a sentence over all that its source offered so far, kept while other parts of it are written. By the source and a condition. */
const known = following(
  (): { marks: Marks; rows: number } => ({ marks: NONE, rows: 0 }),
  (state, table, _from, _to, key) => {
    const [source, condition] = JSON.parse(key) as [Source, Condition];
    const rows = sourceRows(source, { table });
    // A word that is not full is made anew.
    const full = state.rows >>> 5;
    const marks = marksFor(rows.length);
    marks.set(state.marks.subarray(0, full));
    marks.set(partOf(condition, { table, ...OF_THE_COLUMNS })(rows.subarray(full * 32)), full);
    state.marks = marks;
    state.rows = rows.length;
  },
  MOST_KNOWN,
);

/** Whether a condition over a source reads the columns as they are, and nothing that can become another among messages that are long there. */
const isPlain = (source: Source, { subject }: Condition, c: MatchContext): boolean =>
  c.propertyOf === undefined &&
  subject.of !== 'user property' &&
  subject.of !== 'environment' &&
  (source.of !== 'events' || source.names.every((n) => c.definedRows?.(n) === undefined));

/** What a definition takes of what its source offers from its start on, and what one part of several alone keeps out; `newest` so many of
 *  these are named. Where any part is enough, none alone keeps anything out.
 */
export const sifted = (
  { source, where, since }: Pick<Definition, 'source' | 'where' | 'since'>,
  c: MatchContext,
  newest: number,
): Sifted & { readonly offered: Int32Array } => {
  const all = sourceRows(source, c);
  const measured = since === undefined ? undefined : byRow((row) => c.table.time.get(row) >= since)(all);
  const marksOf = (x: Condition): Marks => (isPlain(source, x, c) ? known(c.table, JSON.stringify([source, x])).marks : partOf(x, c)(all));
  const parts = [...where.conditions.map(marksOf), ...where.groups.map((g) => joined(all, g.match, g.conditions.map(marksOf)))];
  const offered = measured ? kept(all, measured) : all;
  if (where.match === 'all') {
    const { rows, missed } = sift(all, measured, parts, newest);
    return { offered, rows, missed: parts.length < 2 ? [] : missed };
  }
  const any = joined(all, 'any', parts);
  return { offered, rows: kept(all, measured ? joined(all, 'all', [measured, any]) : any), missed: [] };
};

/** The rows that a definition takes, ascending, from a row on; before its start it has none. */
export const rowsOfDefinition = (
  { source, where, since }: Pick<Definition, 'source' | 'where' | 'since'>,
  c: MatchContext,
  from = 0,
): Int32Array => {
  const rows = rowsWhere(sourceRows(source, c, from), where, c);
  const time = c.table.time.raw;
  if (since === undefined) return rows;
  return kept(rows, byRow((row) => time[row]! >= since)(rows));
};
