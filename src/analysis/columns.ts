/** Messages as columns, held in memory: loaded once, kept up to date as messages come, made anew when another version judges them.
 *  Whoever computes holds one state of them. While a state is held nothing is added to it, however long the computation takes and whatever it waits for.
 */
import { AsyncLocalStorage } from 'node:async_hooks';
import { keepingPersons } from '../core/identity/kept-persons';
import { MessageTable, USUAL_USER_KIND } from '../core/table/message-table';
import { verdictOf, type Verdict } from '../core/table/row-verdicts';
import { withPresentNames } from '../core/plan/rename';
import { userKindOf } from '../core/plan/user-kind';
import { RowReader } from '../core/table/row-reader';
import { readSegment, SEGMENT_FORMAT } from '../core/table/segment';
import { isUnavailable, type Database } from '../db/database';
import { aboutHowMany, sharedIds, verdictsUpTo } from '../db/message-store';
import { streamMessages } from '../db/message-stream';
import type { PublishedPlan } from '../core/plan/version';
import { openRechecks } from '../db/recheck-store';
import { dropSegments, readSegments } from '../db/segment-store';
import type { Standing } from '../server/analysis-talk';
import { database } from '../server/context';
import { log } from '../server/log';
import { newestVersion } from '../server/published';
import { PATIENCE, Turns } from './turns';

/** What is computed on: the columns, and the version that judged what is in them. */
export interface State {
  readonly version: PublishedPlan | undefined;
  readonly recheckOpen: boolean;
  readonly table: MessageTable;
}

/** Up to which message it is known whose IDs are shared. */
const sharedUpTo = new WeakMap<MessageTable, number>();

/** Whether it is known of a message, and of all before it, whose IDs are shared. */
export const isWholeUpTo = (table: MessageTable, seq: number): boolean => (sharedUpTo.get(table) ?? 0) >= seq;

/** Appends the runs of messages that are kept as columns. What cannot be read is thrown away, and all is read from the messages. */
const loadSegments = async (from: Database, table: MessageTable): Promise<boolean> => {
  try {
    await readSegments(from, SEGMENT_FORMAT, ({ upTo, rows, bytes }) => {
      const before = table.length;
      readSegment(table, bytes);
      if (table.lastSeq !== upTo || table.length - before !== rows) throw new Error(`the run up to ${upTo} is another one`);
    });
    sharedUpTo.set(table, table.lastSeq);
    return true;
  } catch (e) {
    if (isUnavailable(e)) throw e;
    log.error({ err: e }, 'the columns that were kept cannot be read; they are made again');
    await dropSegments(from);
    return false;
  }
};

/** Notes what was found under the version in force on the messages that the table has. */
const loadVerdicts = async (from: Database, table: MessageTable): Promise<void> => {
  if (table.length === 0) return;
  const found = await verdictsUpTo(from, table.lastSeq);
  const judged: { readonly row: number; readonly verdicts: readonly Verdict[] }[] = [];
  for (const { findings, seqs } of found) {
    // One for all messages on which the same was found.
    const verdicts = findings.map(verdictOf);
    let row = 0;
    for (const seq of seqs) {
      row = table.rowOf(seq, row);
      if (row < table.length && table.seq.get(row) === seq) judged.push({ row, verdicts });
    }
  }
  judged.sort((a, b) => a.row - b.row);
  table.forgetVerdicts();
  for (const { row, verdicts } of judged) table.setVerdicts(row, verdicts);
};

/** Appends the stored messages that come after the table's last one. */
export const loadTable = async (from: Database, table: MessageTable): Promise<void> => {
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

const userKindIn = (version: PublishedPlan | undefined): string => (version ? userKindOf(version.plan) : USUAL_USER_KIND);

/** All stored messages: those that are kept as columns, and the rest. `noticed` is given what is being filled. */
export const loadWhole = async (from: Database, userKind: string, noticed?: (table: MessageTable) => void): Promise<MessageTable> => {
  const about = await aboutHowMany(from);
  const begun = (): MessageTable => {
    const table = new MessageTable(userKind);
    table.expect(about);
    noticed?.(table);
    return table;
  };
  let table = begun();
  if (!(await loadSegments(from, table))) table = begun();
  await loadVerdicts(from, table);
  await loadTable(from, table);
  return table;
};

/** The columns as a version judges them, loaded beside those that are there: who holds those is not disturbed. */
const made = async (version: PublishedPlan | undefined, recheckOpen: boolean): Promise<State> => {
  expected = Math.max(1, await aboutHowMany(database()));
  const table = await loadWhole(database(), userKindIn(version), (filling) => (loading = filling));
  return { version, recheckOpen, table };
};

const turns = new Turns<State>({
  patience: PATIENCE,
  bring: async (before, alone) => {
    const newest = await newestVersion();
    // Messages are seen under present names, so what asks about them is, too.
    const version = newest && { ...newest, plan: withPresentNames(newest.plan) };
    const recheckOpen = (await openRechecks(database())).length > 0;
    if (!before || before.table.userKind !== userKindIn(version)) return made(version, recheckOpen);
    const isJudgedAnew = before.version?.number !== version?.number || before.recheckOpen !== recheckOpen;
    await alone(async () => {
      await loadTable(database(), before.table);
      if (isJudgedAnew) await loadVerdicts(database(), before.table);
    });
    return isJudgedAnew ? { version, recheckOpen, table: before.table } : before;
  },
});

/** How far the columns are. */
export const standing = (): Standing => (turns.current ? { ready: true } : { ready: false, rows: loading?.length ?? 0, total: expected });

/** Whether something is to be added that waits for the state to be released. */
export const isWaitedFor = (): boolean => turns.isWaitedFor;

/** Whether it waits for whoever asks this alone, who holds the state. */
export const waitsForOne = (): boolean => turns.waitsForOne;

interface Held {
  state: State;
  age: number;
  release: () => void;
}

const states = new AsyncLocalStorage<Held>();

/** Does something on one state of everything. `release` is to be called when nothing is computed on it; `age` says how long ago what is held
 *  by then was the newest, in ms.
 */
export const holding = async <T>(work: (release: () => void, age: () => number) => Promise<T>): Promise<T> => {
  const { state, age, release } = await turns.hold();
  const held: Held = { state, age, release };
  try {
    return await states.run(held, () =>
      work(
        () => held.release(),
        () => held.age,
      ),
    );
  } catch (e) {
    held.release();
    throw e;
  }
};

/** Waits for something without holding a state meanwhile: what waits to be added is added, and what it waits for may need that. Afterwards another state is
 *  held, so nothing of the one before is to be used any more.
 */
export const lettingGo = async (wait: () => Promise<void>): Promise<void> => {
  const held = heldNow();
  held.release();
  await wait();
  Object.assign(held, await turns.hold());
};

/** As `holding`, released when the work is done. */
export const onOneState = <T>(work: () => Promise<T>): Promise<T> =>
  holding(async (release) => {
    const result = await work();
    release();
    return result;
  });

/** The state that is held. Errors: throws where none is, which is a slip of the caller. */
export const heldState = (): State => heldNow().state;

const heldNow = (): Held => {
  const held = states.getStore();
  if (!held) throw new Error('no state of the columns is held');
  return held;
};

/** Of the rules and tables asked for lately: the draft's and the published ones, and those of another traffic. */
const MAX_RULES = 4;

/** The persons in a table that is held, under some rules. */
export const currentPersons = keepingPersons(MAX_RULES);
