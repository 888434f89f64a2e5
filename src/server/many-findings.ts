/** The checks over many messages: worked out in the background, a check at a time, and kept until messages or plan change. */
import { manyGroups, type FindingGroup } from '../core/arrival/finding-group';
import { settingsOf } from '../core/plan/plan';
import type { MessageTable } from '../core/table/message-table';
import { currentPersons } from './columns';
import type { PublishedPlan } from '../db/plan-store';

interface Held {
  readonly table: MessageTable;
  readonly length: number;
  readonly version: number;
  readonly at: number;
  readonly groups: readonly FindingGroup[];
}

/** So long an answer may lag behind what arrives: a cause does not come and go within seconds. */
const FRESH_MS = 5000;
/** And so long although nothing arrives, since waiting is judged by the clock. */
const STALE_MS = 10 * 60_000;

let held: Held | undefined;
let working: Promise<Held> | undefined;

const work = async (table: MessageTable, version: PublishedPlan): Promise<Held> => {
  const { length } = table;
  const now = Date.now();
  const persons = currentPersons(table, settingsOf(version.plan).identity);
  let first = now;
  for (let row = 0; row < length; row++) first = Math.min(first, table.received.get(row));
  const steps = manyGroups({
    plan: version.plan,
    table,
    personOfMessage: persons.personOfMessage,
    persons: persons.count,
    now,
    watchedSince: Math.max(version.at, first),
  });
  for (;;) {
    const step = steps.next();
    if (step.done) return (held = { table, length, version: version.number, at: now, groups: step.value });
    await new Promise((next) => setImmediate(next));
  }
};

/** The groups under a version; what was found a moment ago where messages have come since, while it is looked at again. */
export const manyFindings = async (table: MessageTable, version: PublishedPlan): Promise<readonly FindingGroup[]> => {
  const known = held?.table === table && held.version === version.number ? held : undefined;
  const age = known ? Date.now() - known.at : Infinity;
  if (known && (known.length === table.length ? age < STALE_MS : age < FRESH_MS)) return known.groups;
  working ??= work(table, version).finally(() => (working = undefined));
  if (known) {
    working.catch((e: unknown) => console.error(e));
    return known.groups;
  }
  return (await working).groups;
};
