/** Messages as columns, held in memory: loaded once, tailed as messages come, rebuilt when a new version judges them. */
import { resolvePersons, type Persons } from '../core/identity/persons';
import type { IdentityRules } from '../core/plan/plan';
import { MessageTable } from '../core/table/message-table';
import { readMessage } from '../core/arrival/message';
import { canonicalJson } from '../core/plan/content-hash';
import { messagesAfter, type ReadMessage } from '../db/message-store';
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
let persons: { readonly of: MessageTable; readonly length: number; readonly rules: string; readonly value: Persons } | undefined;

const append = (table: MessageTable, m: ReadMessage): void => {
  const read = readMessage(m.body);
  if (!read.ok) return;
  const { ids, properties, userProperties } = read.message;
  table.append(
    {
      seq: m.seq,
      kind: m.kind,
      name: m.name,
      sourceId: m.sourceId,
      release: m.release,
      occurredAt: m.occurredAt,
      ids,
      properties,
      userProperties,
    },
    m.findings.map((f) => ({ code: f.code, path: f.path })),
  );
};

const tail = async (): Promise<MessageTable> => {
  const version = (await newestVersion())?.number ?? 0;
  const recheckOpen = (await openRechecks(database())).length > 0;
  if (held?.version !== version || held.recheckOpen !== recheckOpen) held = { version, recheckOpen, table: new MessageTable() };
  const { table } = held;
  for (;;) {
    const page = await messagesAfter(database(), table.lastSeq, PAGE);
    for (const m of page) append(table, m);
    if (page.length < PAGE) return table;
    await new Promise((next) => setImmediate(next));
  }
};

/** The table with all messages that are committed now. Concurrent callers share one look. */
export const currentTable = (): Promise<MessageTable> => {
  tailing ??= tail().finally(() => (tailing = undefined));
  return tailing;
};

/** The persons in it under these rules; remembered until messages or rules change. */
export const currentPersons = (table: MessageTable, rules: IdentityRules): Persons => {
  const key = canonicalJson(rules);
  if (persons?.of !== table || persons.length !== table.length || persons.rules !== key)
    persons = { of: table, length: table.length, rules: key, value: resolvePersons(table, rules) };
  return persons.value;
};
