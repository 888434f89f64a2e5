/** The checks over many messages: a job in the background, asked for when messages come or a version is published, and every ten minutes,
 *  since waiting is judged by the clock. A page reads what it last found.
 */
import { manyGroups } from '../core/arrival/finding-group';
import { settingsOf } from '../core/plan/plan';
import { manyFound, storeManyFound, type ManyFindings } from '../db/finding-store';
import type { PublishedPlan } from '../db/plan-store';
import { currentPersons, currentTable } from './columns';
import { database } from './context';
import { defineJob } from './jobs';
import { newestVersion } from './published';

/** Messages that come one after the other are looked at together: so long at least, and so many times as long as the last look took, so that
 *  looking leaves most of the time to what comes in.
 */
const TOGETHER_S = 2;
const PAUSE_FACTOR = 9;
const FIRST_LOOK_MS = 60_000;
const POLL_MS = 100;

const look = async (): Promise<void> => {
  const version = await newestVersion();
  if (!version) return;
  const now = Date.now();
  const table = await currentTable();
  const upTo = table.lastSeq;
  let first = now;
  for (let row = 0; row < table.length; row++) first = Math.min(first, table.received.get(row));
  const persons = currentPersons(table, settingsOf(version.plan).identity);
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
    if (step.done) {
      lastLookMs = Date.now() - now;
      return storeManyFound(database(), version.number, { upTo, at: now, groups: step.value });
    }
    await new Promise((next) => setImmediate(next));
  }
};

const job = defineJob('checks-over-many', look, '*/10 * * * *');

let asked: number | undefined;
let lastLookMs = 0;

/** Says that messages came. A process asks once in a while, however many come. */
export const messagesCame = (): void => {
  const now = Date.now();
  const pauseS = Math.max(TOGETHER_S, Math.ceil((lastLookMs * PAUSE_FACTOR) / 1000));
  if (asked !== undefined && now - asked < pauseS * 1000) return;
  asked = now;
  // The look comes when the while is over, for all that came within it.
  job.ask(pauseS).catch(() => (asked = undefined));
};

/** What the checks over many found under the newest version, as of their last look. Under a version that they have not looked at yet, the
 *  first look is waited for, a minute at most.
 */
export const manyFindings = async ({ number }: PublishedPlan, lastSeq: number): Promise<ManyFindings> => {
  const from = Date.now();
  for (let tries = 0; ; tries++) {
    const found = await manyFound(database(), number);
    if (found) {
      if (found.upTo < lastSeq) messagesCame();
      return found;
    }
    if (tries === 0) await job.ask();
    if (Date.now() - from > FIRST_LOOK_MS) return { upTo: 0, at: from, groups: [] };
    await new Promise((next) => setTimeout(next, POLL_MS));
  }
};
