/** The checks over many messages: a job in the background, asked for when messages come or a version is published, and every ten minutes,
 *  since waiting is judged by the clock. A page reads what it last found.
 */
import { manyGroups, type FoundGroup } from '../core/arrival/finding-group';
import type { IntakeDay } from '../core/arrival/intake-totals';
import { manyChecks } from '../core/arrival/many/index';
import { sameValue } from '../core/plan/edit';
import { entries, type Plan } from '../core/plan/plan';
import type { Watch } from '../core/plan/watch';
import type { MessageTable } from '../core/table/message-table';
import { EVERYTHING } from '../core/table/traffic';
import { manyFound, storeManyFound, type ManyFindings } from '../db/finding-store';
import { intakeDays } from '../db/message-store';
import type { PublishedPlan } from '../core/plan/version';
import { inBackground, PAUSE_FACTOR } from './background';
import { signalsMayDiffer } from './signals-asked';
import { heldState, isWaitedFor, lettingGo, onOneState, waitsForOne } from './columns';
import { currentWatch, publishedScope, type Scope } from './scope';
import { inBetween } from '../server/answer';
import { database } from '../server/context';
import { newestVersion } from '../server/published';
import { defineJob } from './jobs';
import { PATIENCE } from './turns';

/** Messages that come one after the other are looked at together: this long at least, and so many times as long as the last look took, so that
 *  looking leaves most of the time to what comes in.
 */
const TOGETHER_S = 2;
const POLL_MS = 100;

/** What is waited for this long at most is looked for again as soon as the wait is over; longer waits are left to the regular look. */
const SOON_MS = 60_000;

/** The longest wait, among the short ones, that a message of this plan may begin: for its confirmation. */
const shortWaitMs = (plan: Plan): number =>
  Math.max(0, ...entries(plan, 'event').map(([, e]) => (e.counterpart && e.counterpart.windowMs <= SOON_MS ? e.counterpart.windowMs : 0)));

interface Look {
  readonly version: PublishedPlan;
  readonly now: number;
  readonly watch: Watch;
  readonly intake: readonly IntakeDay[];
  /** What all its checks have seen; the later ones may have seen more. */
  readonly upTo: number;
  /** When the newest of these was received, UTC epoch ms. */
  readonly newest: number;
  readonly groups: FoundGroup[];
  /** What it took, without the pauses. */
  ms: number;
}

const begun = async (version: PublishedPlan, table: MessageTable): Promise<Look> => ({
  version,
  now: Date.now(),
  watch: await currentWatch(version),
  intake: await intakeDays(database()),
  upTo: heldState().table.lastSeq,
  newest: table.length === 0 ? 0 : table.received.get(table.length - 1),
  groups: [],
  ms: 0,
});

/** Check by check on one state, until something waits to be added to it: then the next one looks at what there is with that. */
const lookAtAll = async (): Promise<Look | undefined> => {
  let look: Look | undefined;
  for (let next = 0; next < manyChecks.length;)
    await onOneState(async () => {
      const { version, table, persons } = publishedScope();
      if (!version) {
        next = manyChecks.length;
        look = undefined;
        return;
      }
      // What another version asks is looked for from the beginning.
      if (look?.version.number !== version.number) {
        look = await begun(version, table);
        next = 0;
      }
      const { now, watch, intake, groups } = look;
      do {
        const { value, ms } = await inBackground(
          manyGroups({ plan: version.plan, people: persons, now, watch, intake }, manyChecks[next++]!.id),
          // Nothing is added while it looks: it does not make others wait for that.
          () => wanted > 0 || isWaitedFor(),
        );
        groups.push(...value);
        look.ms += ms;
      } while (next < manyChecks.length && !waitsForOne());
    });
  return look;
};

const lookOnce = async (): Promise<void> => {
  const look = await lookAtAll();
  if (!look) return;
  const { version, now, upTo, newest, groups, ms } = look;
  lastLookMs = ms;
  await storeManyFound(database(), version.number, { upTo, at: now, groups });
  lookedAt = Math.max(lookedAt, version.number);
  signalsMayDiffer();
  const waitMs = newest + shortWaitMs(version.plan) - now;
  if (waitMs > 0) await again.ask(Math.ceil(waitMs / 1000) + 1);
};

let lastLookMs = 0;
/** The newest version that was looked at, as far as is known here. */
let lookedAt = 0;
/** So many views wait for the first look. */
let wanted = 0;
let looking: Promise<void> = Promise.resolve();

/** One look after the other, whichever queue asked for it. */
const look = (): Promise<void> => {
  const mine = looking.then(lookOnce);
  looking = mine.catch(() => undefined);
  return mine;
};

const job = defineJob('checks-over-many', look, '*/10 * * * *');
/** A queue of its own, so that what waits for its moment does not be in the way of what came just now. */
const again = defineJob('checks-over-many-again', look);

let asked: number | undefined;

/** Says that messages came. A process asks once in a while, however many come. */
export const messagesCame = (): void => {
  const now = Date.now();
  const pauseS = Math.max(TOGETHER_S, Math.ceil((lastLookMs * PAUSE_FACTOR) / 1000));
  if (asked !== undefined && now - asked < pauseS * 1000) return;
  asked = now;
  // The look comes when the while is over, for all that came within it.
  job.ask(pauseS).catch(() => (asked = undefined));
};

/** Whether the checks over many have looked under a version, in whichever process. */
export const isLookedUnder = async (number: number): Promise<boolean> => {
  if (lookedAt < number && (await manyFound(database(), number))) lookedAt = number;
  return lookedAt >= number;
};

/** Has them look under the newest version, where they have not. Errors: throws what the database says. */
export const lookUnderNewest = async (): Promise<void> => {
  if (!(await isLookedUnder((await newestVersion())?.number ?? 0))) await job.ask();
};

/** What the checks over many found under the newest version, as of their last look; `undefined` while they have not looked under it. */
export const manyFindings = async ({ number }: PublishedPlan, lastSeq: number): Promise<ManyFindings | undefined> => {
  const found = await manyFound(database(), number);
  if (found && found.upTo < lastSeq) messagesCame();
  return found;
};

/** Waits until the checks over many have looked under the newest version, as long as the patience for what is newest allows. */
const waitForLook = async (): Promise<void> => {
  const from = performance.now();
  wanted++;
  try {
    for (let isAsked = false; performance.now() - from < PATIENCE.free;) {
      // Under one that was followed by another in between nobody looks any more.
      if (await isLookedUnder((await newestVersion())?.number ?? 0)) return;
      // Where the queue is not there yet, it is asked again; the look may come on its own meanwhile.
      isAsked ||= await job.ask().then(
        () => true,
        () => false,
      );
      await new Promise((next) => setTimeout(next, POLL_MS));
    }
  } finally {
    wanted--;
  }
};

/** Gives the checks over many time to look under a version just published, without holding the state that they need: what is found on it is asked for
 *  afterwards, of the state that is held then.
 */
export const afterFirstLook = async (): Promise<void> => {
  if (lookedAt < (heldState().version?.number ?? 0)) await lettingGo(waitForLook);
};

/** What they find in another traffic than that which counts: worked out when it is asked for. */
export const manyFindingsIn = async ({ plan, table, persons, version, traffic }: Scope): Promise<ManyFindings> => {
  const now = Date.now();
  const watch = await currentWatch(version);
  // What the intake answered is counted over all that came, and says nothing of a part of it.
  const intake = sameValue(traffic, EVERYTHING) ? await intakeDays(database()) : undefined;
  const groups = await inBetween(manyGroups({ plan, people: persons, now, watch, ...(intake ? { intake } : {}) }));
  return { upTo: table.lastSeq, at: now, groups };
};
