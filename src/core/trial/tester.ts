/** Which messages are the tester's among all that came since a run began. */
import type { RecordedMessage } from '../arrival/live-message';
import { environmentOf } from '../arrival/live-filter';
import { identifiersOf, identifiersOfMe, isMine } from '../arrival/me';
import { isPlaceholderId } from '../identity/placeholder';
import type { Plan } from '../plan/plan';
import { refOf } from '../plan/property-path';
import type { MessageTable, Scalar } from '../table/message-table';

const nodesAt = (table: MessageTable, row: number): number[] =>
  [...table.ids.values()].map((c) => c.get(row)).filter((n) => n >= 0 && !isPlaceholderId(table.nodes.valueOf(n)));

/** The rows from one on that have an identifier of this value, or one that was beside such a one, and so on; what stands for nobody joins nobody. Ascending. */
const rowsAround = (table: MessageTable, from: number, value: string): number[] => {
  const mine = new Set<number>();
  // The same text under another kind is taken for the same, as it is wherever somebody is told by an identifier.
  const add = (text: string): void => {
    for (const kind of table.ids.keys()) {
      const n = table.nodes.find(kind, text);
      if (n >= 0) mine.add(n);
    }
  };
  add(value);
  const columns = [...table.ids.values()];
  const taken = new Set<number>();
  for (let size = -1; size < mine.size;) {
    size = mine.size;
    for (let row = from; row < table.length; row++) {
      if (taken.has(row) || !columns.some((c) => mine.has(c.get(row)))) continue;
      taken.add(row);
      for (const n of nodesAt(table, row)) if (!mine.has(n)) add(table.nodes.valueOf(n));
    }
  }
  return [...taken].sort((a, b) => a - b);
};

/** The rows from one on that are of whoever has an identifier of this value, however many others' came between; and how many user IDs were on their devices. */
export const rowsOfTester = (
  table: MessageTable,
  from: number,
  value: string,
  userKind: string,
): { readonly rows: readonly number[]; readonly users: number } => {
  const kinds = [...table.ids];
  const around = rowsAround(table, from, value).map((row) => ({
    row,
    body: {
      ids: Object.fromEntries(
        kinds.flatMap(([kind, c]): [string, string][] => (c.get(row) < 0 ? [] : [[kind, table.nodes.valueOf(c.get(row))]])),
      ),
    },
  }));
  const mine = identifiersOfMe(value, around, userKind);
  return {
    rows: around.filter((m) => isMine(mine, m, userKind)).map((m) => m.row),
    users: new Set(around.map((m) => identifiersOf(m)[userKind]).filter((u) => u !== undefined && !isPlaceholderId(u))).size,
  };
};

/** The first identifier on the first of these rows that has one. */
export const identifierOn = (table: MessageTable, rows: readonly number[]): string | undefined => {
  for (const row of rows) {
    const [node] = nodesAt(table, row);
    if (node !== undefined) return table.nodes.valueOf(node);
  }
  return undefined;
};

/** A text as the values that it may stand for: itself, and the number or boolean that is written so. */
const scalarsOf = (text: string): Scalar[] => {
  const n = Number(text);
  return [text, ...(text === String(n) ? [n] : []), ...(text === 'true' ? [true] : text === 'false' ? [false] : [])];
};

/** Whether a value may have come at this path without being kept in the columns: who is told by it may not be found then. */
export const mayMissValue = (table: MessageTable, name: string): boolean => table.mayLack('properties', refOf(name.split('.')));

/** The rows from one on that have a property of this value; the name may be a path with dots. Ascending. */
export const rowsWithValue = (table: MessageTable, from: number, name: string, value: string): number[] => {
  const columns = [table.properties.get(name), table.properties.get(refOf(name.split('.')))].filter((c) => c !== undefined);
  const wanted = columns.map((c) => ({
    column: c.column,
    indexes: new Set(
      scalarsOf(value)
        .map((v) => c.values.find(v))
        .filter((i) => i >= 0),
    ),
  }));
  const out: number[] = [];
  for (let row = from; row < table.length; row++) if (wanted.some((w) => w.indexes.has(w.column.get(row)))) out.push(row);
  return out;
};

export interface TesterSeen<M> {
  /** In the order given. */
  readonly mine: readonly M[];
  /** Of the tester, in other environments: how many by environment. */
  readonly elsewhere: ReadonlyMap<string, number>;
  readonly kinds: ReadonlySet<string>;
}

/** The tester's messages by environment. */
export const testerSeen = <M extends Pick<RecordedMessage, 'body' | 'sourceId' | 'release'>>(
  plan: Plan,
  own: readonly M[],
  environment: string,
): TesterSeen<M> => {
  const mine = own.filter((m) => environmentOf(plan, m) === environment);
  const elsewhere = new Map<string, number>();
  for (const m of own) {
    const other = environmentOf(plan, m);
    if (other !== environment) elsewhere.set(other, (elsewhere.get(other) ?? 0) + 1);
  }
  return { mine, elsewhere, kinds: new Set(mine.flatMap((m) => Object.keys(identifiersOf(m)))) };
};
