/** Which rows of the columns a definition takes. */
import type { MessageTable, ScalarColumn } from '../table/message-table';
import { rowsBefore } from '../table/event-view';
import { MESSAGE_KINDS } from '../table/message-kinds';
import type { UserValues } from '../table/matcher';
import type { PropertyRef } from '../plan/property-path';
import type { Condition, Definition, Group, Source } from './definition';
import { testOf } from './holds';
import { pagePath, pageQuery } from './page-parts';

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

type RowTest = (row: number) => boolean;

/** Each distinct value is judged once, when it is met; a row is then a look-up, one place further on, since the first place is for what is absent. */
const byIndex = (index: (row: number) => number, values: number, holdsAt: (i: number) => boolean, absent: boolean): RowTest => {
  // 0 is not judged yet, 1 fails, 2 holds.
  const truth = new Uint8Array(values + 1);
  truth[0] = absent ? 2 : 1;
  return (row) => {
    const i = index(row);
    let t = truth[i + 1]!;
    if (t === 0) truth[i + 1] = t = holdsAt(i) ? 2 : 1;
    return t === 2;
  };
};

/** An empty text says nothing: a page, a release or an environment that is not told is absent. */
const told = (v: string): string | undefined => (v === '' ? undefined : v);

const rowTestOf = (c: Condition, { table, environmentOf, userValues, propertyOf }: MatchContext): RowTest => {
  const holds = testOf(c);
  const { length } = table;
  const onTexts = (index: { readonly [row: number]: number }, values: readonly string[], read: (v: string) => string = (v) => v): RowTest =>
    byIndex(
      (row) => index[row]!,
      values.length,
      (i) => holds(told(read(values[i]!))),
      holds(undefined),
    );
  const { subject } = c;
  switch (subject.of) {
    case 'event name':
      return onTexts(table.name.rawFor(length), table.names.values);
    case 'source':
      return onTexts(table.source.rawFor(length), table.sources.values);
    case 'release':
      return onTexts(table.release.rawFor(length), table.releases.values);
    case 'page path':
      return onTexts(table.page.rawFor(length), table.pages.values, pagePath);
    case 'page query':
      return onTexts(table.page.rawFor(length), table.pages.values, pageQuery);
    case 'page address':
      return onTexts(table.page.rawFor(length), table.pages.values);
    case 'environment': {
      const own = onTexts(table.environment.rawFor(length), table.environments.values);
      const said = table.environment.rawFor(length);
      const bySource = onTexts(table.source.rawFor(length), table.sources.values, environmentOf);
      return (row) => (said[row]! >= 0 ? own(row) : bySource(row));
    }
    case 'property': {
      const p = propertyOf ? propertyOf(subject.name) : table.properties.get(subject.name);
      if (!p) return holds(undefined) ? () => true : () => false;
      const index = p.column.rawFor(length);
      const { values } = p.values;
      return byIndex(
        (row) => index[row]!,
        values.length,
        (i) => holds(values[i]),
        holds(undefined),
      );
    }
    case 'user property': {
      const user = userValues(subject.name);
      return byIndex(user.at, user.values.length, (i) => holds(user.values[i]), holds(undefined));
    }
    default:
      return subject satisfies never;
  }
};

/** Keeps the rows that a test lets pass, in place. */
const kept = (rows: Int32Array, test: RowTest): Int32Array => {
  const out = new Int32Array(rows.length);
  let n = 0;
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i]!;
    out[n] = row;
    if (test(row)) n++;
  }
  return out.subarray(0, n);
};

const anyOf =
  (tests: readonly RowTest[]): RowTest =>
  (row) => {
    for (const t of tests) if (t(row)) return true;
    return false;
  };
const allOf =
  (tests: readonly RowTest[]): RowTest =>
  (row) => {
    for (const t of tests) if (!t(row)) return false;
    return true;
  };

/** The parts of a group, as tests of rows: its conditions, then its groups. */
export const partsOf = (where: Group, c: MatchContext): RowTest[] => [
  ...where.conditions.map((x) => rowTestOf(x, c)),
  ...where.groups.map((g) => {
    const tests = g.conditions.map((x) => rowTestOf(x, c));
    return g.match === 'all' ? allOf(tests) : anyOf(tests);
  }),
];

/** Rows, ascending, put together so that each comes once. */
const united = (lists: readonly Int32Array[]): Int32Array => {
  const [only] = lists;
  if (lists.length <= 1) return only ?? new Int32Array(0);
  const all = new Int32Array(lists.reduce((n, l) => n + l.length, 0));
  let at = 0;
  for (const l of lists) {
    all.set(l, at);
    at += l.length;
  }
  all.sort();
  let n = 0;
  for (let i = 0; i < all.length; i++) if (i === 0 || all[i] !== all[i - 1]) all[n++] = all[i]!;
  return all.subarray(0, n);
};

const rowsFrom = (rows: Int32Array, from: number): Int32Array => rows.subarray(rowsBefore(rows, from).length);

/** The rows that a source offers, ascending, from a row on. */
export const sourceRows = (source: Source, { table, definedRows }: MatchContext, from = 0): Int32Array => {
  if (source.of === 'events') return united(source.names.map((name) => rowsFrom(definedRows?.(name) ?? table.rowsOf(name), from)));
  const wanted = MESSAGE_KINDS.indexOf(source.of === 'views' ? 'view' : 'interaction');
  const out: number[] = [];
  const kinds = table.otherKind.rawFor(table.length);
  for (let row = from; row < table.length; row++) if (kinds[row] === wanted) out.push(row);
  return Int32Array.from(out);
};

/** The rows among others for which a group holds, ascending. */
export const rowsWhere = (rows: Int32Array, where: Group, c: MatchContext): Int32Array => {
  const parts = partsOf(where, c);
  // Each part looks only at what the ones before it let pass.
  if (where.match === 'all') return parts.reduce(kept, rows);
  return kept(rows, anyOf(parts));
};

/** The rows that a definition takes, ascending, from a row on; before its start it has none. */
export const rowsOfDefinition = (
  { source, where, since }: Pick<Definition, 'source' | 'where' | 'since'>,
  c: MatchContext,
  from = 0,
): Int32Array => {
  const rows = rowsWhere(sourceRows(source, c, from), where, c);
  const time = c.table.time.raw;
  return since === undefined ? rows : kept(rows, (row) => time[row]! >= since);
};
