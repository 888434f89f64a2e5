/** Which rows of the columns a definition takes. */
import { type MessageTable, type Value } from '../table/message-table';
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
}

type RowTest = (row: number) => boolean;

/** Each distinct value is judged once; a row is then a look-up, one place further on, since the first place is for what is absent. */
const truthOf = (values: readonly Value[], holds: (v: Value | undefined) => boolean): Uint8Array => {
  const truth = new Uint8Array(values.length + 1);
  truth[0] = holds(undefined) ? 1 : 0;
  values.forEach((v, i) => (truth[i + 1] = holds(v) ? 1 : 0));
  return truth;
};

const byIndex =
  (index: { readonly [row: number]: number }, truth: Uint8Array): RowTest =>
  (row) =>
    truth[index[row]! + 1] === 1;

/** An empty text says nothing: a page, a release or an environment that is not told is absent. */
const told = (v: string): string | undefined => (v === '' ? undefined : v);

const rowTestOf = (c: Condition, { table, environmentOf, userValues }: MatchContext): RowTest => {
  const holds = testOf(c);
  const { length } = table;
  const onTexts = (index: { readonly [row: number]: number }, values: readonly string[], read: (v: string) => string = (v) => v): RowTest =>
    byIndex(index, Uint8Array.from([holds(undefined) ? 1 : 0, ...values.map((v) => (holds(told(read(v))) ? 1 : 0))]));
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
      const p = table.properties.get(subject.name);
      if (!p) return holds(undefined) ? () => true : () => false;
      return byIndex(p.column.rawFor(length), truthOf(p.values.values, holds));
    }
    case 'user property': {
      const user = userValues(subject.name);
      const truth = truthOf(user.values, holds);
      return (row) => truth[user.at(row) + 1] === 1;
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

/** The rows that a source offers, ascending. */
export const sourceRows = (source: Source, { table, definedRows }: MatchContext): Int32Array => {
  if (source.of === 'events') return united(source.names.map((name) => definedRows?.(name) ?? table.rowsOf(name)));
  const wanted = MESSAGE_KINDS.indexOf(source.of === 'views' ? 'view' : 'interaction');
  const out: number[] = [];
  const kinds = table.otherKind.rawFor(table.length);
  for (let row = 0; row < table.length; row++) if (kinds[row] === wanted) out.push(row);
  return Int32Array.from(out);
};

/** The rows among others for which a group holds, ascending. */
export const rowsWhere = (rows: Int32Array, where: Group, c: MatchContext): Int32Array => {
  const parts = partsOf(where, c);
  // Each part looks only at what the ones before it let pass.
  if (where.match === 'all') return parts.reduce(kept, rows);
  return kept(rows, anyOf(parts));
};

/** The rows that a definition takes, ascending; before its start it has none. */
export const rowsOfDefinition = ({ source, where, since }: Pick<Definition, 'source' | 'where' | 'since'>, c: MatchContext): Int32Array => {
  const rows = rowsWhere(sourceRows(source, c), where, c);
  const time = c.table.time.raw;
  return since === undefined ? rows : kept(rows, (row) => time[row]! >= since);
};
