/** Messages as columns, held in memory: loaded once, tailed as messages come, rebuilt when a new version judges them. */
import { LivingPersons } from '../core/identity/living-persons';
import type { Persons } from '../core/identity/persons';
import type { PersonRules } from '../core/identity/person-rules';
import { MessageTable } from '../core/table/message-table';
import { userKindOf } from '../core/table/projection';
import { RowReader } from '../core/table/row-reader';
import type { Database } from '../db/database';
import { canonicalJson } from '../core/plan/content-hash';
import { aboutHowMany, sharedIds } from '../db/message-store';
import { streamMessages } from '../db/message-stream';
import { openRechecks } from '../db/recheck-store';
import { database } from './context';
import { newestVersion } from './published';

interface Held {
  readonly version: number;
  readonly recheckOpen: boolean;
  readonly table: MessageTable;
}

let held: Held | undefined;
let tailing: Promise<MessageTable> | undefined;
interface HeldPersons {
  readonly of: MessageTable;
  readonly rules: string;
  readonly living: LivingPersons;
  value: Persons;
}
/** Of the rules and tables asked for lately: the draft's and the published ones, and those of another traffic. */
const MOST_RULES = 4;
let persons: HeldPersons[] = [];

/** Appends the stored messages that come after the table's last one. */
export const loadTable = async (from: Database, table: MessageTable): Promise<void> => {
  if (table.length === 0) table.expect(await aboutHowMany(from));
  const first = table.length;
  const after = table.lastSeq;
  let bytes: Buffer = Buffer.alloc(0);
  const reader = new RowReader(table, (begin, end) => bytes.toString('utf8', begin, end));
  await streamMessages(from, table.lastSeq, (all, view, at, seq, occurredAt, receivedAt) => {
    bytes = all;
    reader.read(view, at, seq, occurredAt, receivedAt);
  });
  if (table.length === first) return;
  const shared = await sharedIds(from, after, table.lastSeq);
  for (const kind of ['reused', 'elsewhere'] as const) {
    const seqs = new Set(shared[kind]);
    for (let row = first; seqs.size > 0 && row < table.length; row++) if (seqs.has(table.seq.get(row))) table[kind].add(row);
  }
};

const tail = async (): Promise<MessageTable> => {
  const newest = await newestVersion();
  const version = newest?.number ?? 0;
  const recheckOpen = (await openRechecks(database())).length > 0;
  if (held?.version !== version || held.recheckOpen !== recheckOpen)
    held = { version, recheckOpen, table: new MessageTable(newest && userKindOf(newest.plan)) };
  await loadTable(database(), held.table);
  return held.table;
};

/** The table with all messages that are committed now. Concurrent callers share one look. */
export const currentTable = (): Promise<MessageTable> => {
  tailing ??= tail().finally(() => (tailing = undefined));
  return tailing;
};

/** The persons in it under these rules. What came since they were last asked for changes only what it touches. */
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
