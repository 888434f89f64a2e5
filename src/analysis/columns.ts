/** Messages as columns, held in memory: loaded once, brought up to date as messages come, made anew when another version judges them.
 *  Whoever computes holds one state of them. While a state is held nothing is added to it, however long the computation takes and whatever it waits for.
 */
import { AsyncLocalStorage } from 'node:async_hooks';
import { LivingPersons } from '../core/identity/living-persons';
import type { Persons } from '../core/identity/persons';
import type { PersonRules } from '../core/identity/person-rules';
import { canonicalJson } from '../core/plan/content-hash';
import { MessageTable } from '../core/table/message-table';
import { userKindOf } from '../core/table/projection';
import { RowReader } from '../core/table/row-reader';
import type { Database } from '../db/database';
import { aboutHowMany, sharedIds } from '../db/message-store';
import { streamMessages } from '../db/message-stream';
import type { PublishedPlan } from '../db/plan-store';
import { openRechecks } from '../db/recheck-store';
import type { Standing } from '../server/analysis-talk';
import { database } from '../server/context';
import { newestVersion } from '../server/published';
import { Turns } from './turns';

/** What is computed on: the columns, and the version that judged what is in them. */
export interface State {
  readonly version: PublishedPlan | undefined;
  readonly recheckOpen: boolean;
  readonly table: MessageTable;
}

/** Up to which message it is known whose IDs are shared. */
const sharedUpTo = new WeakMap<MessageTable, number>();

/** Appends the stored messages that come after the table's last one. */
export const loadTable = async (from: Database, table: MessageTable): Promise<void> => {
  if (table.length === 0) table.expect(await aboutHowMany(from));
  let bytes: Buffer = Buffer.alloc(0);
  const reader = new RowReader(table, (begin, end) => bytes.toString('utf8', begin, end));
  await streamMessages(from, table.lastSeq, (all, view, at, seq, occurredAt, receivedAt) => {
    bytes = all;
    reader.read(view, at, seq, occurredAt, receivedAt);
  });
  // Should this fail, it is asked for with the next messages.
  const after = sharedUpTo.get(table) ?? 0;
  if (table.lastSeq === after) return;
  const shared = await sharedIds(from, after, table.lastSeq);
  for (const kind of ['reused', 'elsewhere'] as const) {
    const seqs = new Set(shared[kind]);
    for (let row = table.length - 1; seqs.size > 0 && row >= 0 && table.seq.get(row) > after; row--)
      if (seqs.has(table.seq.get(row))) table[kind].add(row);
  }
  sharedUpTo.set(table, table.lastSeq);
};

/** How many rows the first load is about. */
let expected = 0;
let loading: MessageTable | undefined;

/** The columns as a version judges them, loaded beside those that are there: who holds those is not disturbed. */
const made = async (version: PublishedPlan | undefined, recheckOpen: boolean): Promise<State> => {
  const table = new MessageTable(version && userKindOf(version.plan));
  loading = table;
  expected = Math.max(1, await aboutHowMany(database()));
  await loadTable(database(), table);
  return { version, recheckOpen, table };
};

const turns = new Turns<State>({
  bring: async (before, alone) => {
    const version = await newestVersion();
    const recheckOpen = (await openRechecks(database())).length > 0;
    if (!before || before.version?.number !== version?.number || before.recheckOpen !== recheckOpen) return made(version, recheckOpen);
    await alone(() => loadTable(database(), before.table));
    return before;
  },
});

/** How far the columns are. */
export const standing = (): Standing => (turns.current ? { ready: true } : { ready: false, rows: loading?.length ?? 0, of: expected });

/** Whether something is to be added that waits for the state to be released. */
export const isWaitedFor = (): boolean => turns.isWaitedFor;

const states = new AsyncLocalStorage<State>();

/** Does something on one state of everything. `release` is to be called when nothing is computed on it any more. */
export const holding = async <T>(work: (release: () => void) => Promise<T>): Promise<T> => {
  const { state, release } = await turns.hold();
  try {
    return await states.run(state, () => work(release));
  } catch (e) {
    release();
    throw e;
  }
};

/** As `holding`, released when the work is done. */
export const onOneState = <T>(work: () => Promise<T>): Promise<T> =>
  holding(async (release) => {
    const result = await work();
    release();
    return result;
  });

/** The state that is held. Errors: throws where none is, which is a slip of the caller. */
export const heldState = (): State => {
  const state = states.getStore();
  if (!state) throw new Error('no state of the columns is held');
  return state;
};

interface HeldPersons {
  readonly of: MessageTable;
  readonly rules: string;
  readonly living: LivingPersons;
  value: Persons;
}
/** Of the rules and tables asked for lately: the draft's and the published ones, and those of another traffic. */
const MOST_RULES = 4;
let persons: HeldPersons[] = [];

/** The persons in a table that is held, under these rules. What came since they were last asked for changes only what it touches. */
export const currentPersons = (table: MessageTable, rules: PersonRules): Persons => {
  const key = canonicalJson(rules);
  const known = persons.find((p) => p.of === table && p.rules === key);
  if (known) {
    if (known.living.follow() > 0) known.value = known.living.persons();
    return known.value;
  }
  const living = new LivingPersons(table, rules);
  living.follow();
  const value = living.persons();
  persons = [{ of: table, rules: key, living, value }, ...persons].slice(0, MOST_RULES);
  return value;
};
