/** Which messages are the tester's among all that came since a run began. */
import type { RecordedMessage } from '../arrival/live-message';
import { environmentOf } from '../arrival/live-filter';
import { identifiersOf, identifiersOfMe, isMine } from '../arrival/me';
import type { Plan } from '../plan/plan';
import { isObject, valueAt } from '../plan/property-path';
import { userKindOf } from '../plan/user-kind';
import type { MessageTable } from '../table/message-table';

/** The rows from one on that have an identifier of this value, or one that was beside such a one, and so on. Ascending. */
export const rowsAround = (table: MessageTable, from: number, value: string): number[] => {
  const mine = new Set([...table.ids.keys()].map((kind) => table.findNode(kind, value)).filter((n) => n >= 0));
  const columns = [...table.ids.values()];
  const taken = new Set<number>();
  for (let size = -1; size < mine.size;) {
    size = mine.size;
    for (let row = from; row < table.length; row++) {
      if (taken.has(row) || !columns.some((c) => mine.has(c.get(row)))) continue;
      taken.add(row);
      for (const c of columns) if (c.get(row) >= 0) mine.add(c.get(row));
    }
  }
  return [...taken].sort((a, b) => a - b);
};

/** Whether a message has a property of this value; the name may be a path with dots. */
export const carriesValue =
  (name: string, value: string) =>
  ({ body }: Pick<RecordedMessage, 'body'>): boolean => {
    const { properties } = body;
    if (!isObject(properties)) return false;
    const v = valueAt(properties, name) ?? valueAt(properties, name.split('.'));
    return v !== undefined && (typeof v === 'string' ? v : JSON.stringify(v)) === value;
  };

export interface TesterSeen<M> {
  /** In the order given. */
  readonly mine: readonly M[];
  /** Of the tester, in other environments: how many by environment. */
  readonly elsewhere: ReadonlyMap<string, number>;
  /** All of the tester, wherever. */
  readonly own: number;
  readonly kinds: ReadonlySet<string>;
  /** User IDs that came beside the tester’s identifiers. */
  readonly users: number;
}

/** Shape: `start` is an identifier of the tester, or says which messages are surely theirs: those tell their identifiers then. */
export const testerSeen = <M extends Pick<RecordedMessage, 'body' | 'sourceId' | 'release'>>(
  plan: Plan,
  all: readonly M[],
  start: string | ((m: M) => boolean),
  environment: string,
): TesterSeen<M> => {
  const userKind = userKindOf(plan);
  const first = typeof start === 'string' ? undefined : all.find((m) => start(m) && Object.keys(identifiersOf(m)).length > 0);
  const known = typeof start === 'string' ? start : first && Object.values(identifiersOf(first))[0];
  const ids = known === undefined ? undefined : identifiersOfMe(known, all, userKind);
  const own = all.filter((m) => (ids ? isMine(ids, m, userKind) : typeof start !== 'string' && start(m)));
  const mine = own.filter((m) => environmentOf(plan, m) === environment);
  const elsewhere = new Map<string, number>();
  for (const m of own) {
    const other = environmentOf(plan, m);
    if (other !== environment) elsewhere.set(other, (elsewhere.get(other) ?? 0) + 1);
  }
  return {
    mine,
    elsewhere,
    own: own.length,
    kinds: new Set(mine.flatMap((m) => Object.keys(identifiersOf(m)))),
    // Who else was on the device is told by what came beside its identifiers.
    users: new Set((typeof start === 'string' ? all : own).map((m) => identifiersOf(m)[userKind]).filter((u) => u !== undefined)).size,
  };
};
