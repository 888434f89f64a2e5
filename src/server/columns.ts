/** Messages as columns, held in memory: loaded once, tailed as messages come, rebuilt when a new version judges them. */
import { LivingPersons } from '../core/identity/living-persons';
import type { Persons } from '../core/identity/persons';
import type { IdentityRules } from '../core/plan/plan';
import { MessageTable } from '../core/table/message-table';
import { RowReader } from '../core/table/row-reader';
import type { Database } from '../db/database';
import { canonicalJson } from '../core/plan/content-hash';
import { messagesAfter, type ReadMessage } from '../db/message-store';
import { streamMessages } from '../db/message-stream';
import { openRechecks } from '../db/recheck-store';
import { database } from './context';
import { newestVersion } from './published';

interface Held {
  readonly version: number;
  readonly recheckOpen: boolean;
  readonly table: MessageTable;
}

const PAGE = 10_000;
let held: Held | undefined;
let tailing: Promise<MessageTable> | undefined;
interface HeldPersons {
  readonly of: MessageTable;
  readonly rules: string;
  readonly living: LivingPersons;
  value: Persons;
}
/** Of the rules asked for lately: the draft's and the published ones. */
const MOST_RULES = 2;
let persons: HeldPersons[] = [];

const EMPTY: { readonly [name: string]: never } = {};
type Fields = { readonly [name: string]: unknown };
const fieldsOf = (v: unknown): Fields => (typeof v === 'object' && v !== null ? (v as Fields) : EMPTY);

/** Identifiers as text, as the intake reads them: numbers become text, null is left out. */
const idsOf = (v: unknown): { readonly [kind: string]: string } => {
  const ids = fieldsOf(v);
  for (const k in ids) if (typeof ids[k] !== 'string') return textsOf(ids);
  return ids as { readonly [kind: string]: string };
};
const textsOf = (ids: Fields): { readonly [kind: string]: string } =>
  Object.fromEntries(Object.entries(ids).flatMap(([k, x]) => (typeof x === 'string' || typeof x === 'number' ? [[k, String(x)]] : [])));

/** Appends a stored message. It was read and accepted once, so its shape is not judged again. */
const appendRow = (table: MessageTable, m: ReadMessage): void => {
  const { ids, properties, user_properties: userProperties } = m.body;
  table.append(
    {
      seq: m.seq,
      kind: m.kind,
      name: m.name,
      sourceId: m.sourceId,
      release: m.release,
      occurredAt: m.occurredAt,
      receivedAt: m.receivedAt,
      page: typeof m.body['page'] === 'string' ? m.body['page'] : '',
      ids: idsOf(ids),
      properties: fieldsOf(properties),
      userProperties: fieldsOf(userProperties),
    },
    m.findings,
  );
};

/** Loads all stored messages into an empty table. */
export const loadTable = async (from: Database, table: MessageTable): Promise<void> => {
  let bytes: Buffer = Buffer.alloc(0);
  const reader = new RowReader(table, (begin, end) => bytes.toString('utf8', begin, end));
  await streamMessages(from, (all, view, at, seq, occurredAt, receivedAt) => {
    bytes = all;
    reader.read(view, at, seq, occurredAt, receivedAt);
  });
};

const tail = async (): Promise<MessageTable> => {
  const version = (await newestVersion())?.number ?? 0;
  const recheckOpen = (await openRechecks(database())).length > 0;
  if (held?.version !== version || held.recheckOpen !== recheckOpen) held = { version, recheckOpen, table: new MessageTable() };
  const { table } = held;
  // All at once where nothing is held yet; what comes later, page by page.
  if (table.length === 0) await loadTable(database(), table);
  for (;;) {
    const page = await messagesAfter(database(), table.lastSeq, PAGE);
    for (const m of page) appendRow(table, m);
    if (page.length < PAGE) return table;
    await new Promise((next) => setImmediate(next));
  }
};

/** The table with all messages that are committed now. Concurrent callers share one look. */
export const currentTable = (): Promise<MessageTable> => {
  tailing ??= tail().finally(() => (tailing = undefined));
  return tailing;
};

/** The persons in it under these rules. What came since they were last asked for changes only what it touches. */
export const currentPersons = (table: MessageTable, rules: IdentityRules): Persons => {
  const key = canonicalJson(rules);
  const known = persons.find((p) => p.of === table && p.rules === key);
  if (known) {
    if (known.living.follow() > 0) known.value = known.living.persons();
    return known.value;
  }
  const living = new LivingPersons(table, rules);
  living.follow();
  const value = living.persons();
  persons = [{ of: table, rules: key, living, value }, ...persons.filter((p) => p.of === table)].slice(0, MOST_RULES);
  return value;
};
