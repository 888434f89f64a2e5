/** Work in the background, queued in PostgreSQL: whichever process is free takes it, and one that dies leaves it to the others. */
import PgBoss from 'pg-boss';
import { alone } from '../db/checkout';
import { isUnavailable } from '../db/database';
import { LOCKS } from '../db/locks';
import { database } from '../server/context';
import { log } from '../server/log';
import { runtime } from '../server/runtime';

/** A queue holds at most one job that waits: the work is "bring it up to date", and once is enough. */
const POLICY = 'short';
/** A job that a dead process left is given to another after this; the work goes in pages that take a second or two. */
const GIVEN_UP_S = 120;
const LOOK_EVERY_S = 1;
const KEPT_S = 3600;
const STOP_MS = 2000;

export interface Job {
  /** Asks for the work to be done, at once or after some seconds; where it waits already, that is enough. */
  ask(afterSeconds?: number): Promise<void>;
}

interface Defined {
  readonly name: string;
  readonly work: () => Promise<void>;
  readonly every: string | undefined;
}

const defined: Defined[] = [];
const workers = new Map<string, string>();
let boss: Promise<PgBoss> | undefined;

/** The queue says that a job is done, or failed, and waits for no answer: where the database is away just then, nobody hears of it, and the job is given to
 *  another in time. All else that nobody waits for ends the thread, as it would without this.
 */
const outliveLostAnswers = (): void => {
  process.on('unhandledRejection', (e) => {
    if (!(e instanceof Error && isUnavailable(e) && e.stack?.includes('pg-boss') === true)) throw e;
    log.warn({ err: e }, 'background work');
  });
};

const start = async (): Promise<PgBoss> => {
  const b = new PgBoss({
    connectionString: database().url,
    max: 2,
    application_name: 'signal-post jobs',
    archiveCompletedAfterSeconds: KEPT_S,
    deleteAfterHours: 24,
    maintenanceIntervalSeconds: 60,
  });
  // A lost database is told by whatever needs it; the queue goes on on its own when it is back.
  b.on('error', (e) => log.warn({ err: e }, 'background work'));
  try {
    // Two processes that make the queues at the same time end in each other's way.
    await alone(database(), LOCKS.queues, async () => {
      await b.start();
      for (const { name } of defined) await b.createQueue(name, { name, policy: POLICY, expireInSeconds: GIVEN_UP_S, retryLimit: 3 });
    });
  } catch (e) {
    await b.stop({ graceful: false }).catch(() => undefined);
    throw e;
  }
  return b;
};

/** The process's queue; a start that failed is tried again at the next call. */
const running = (): Promise<PgBoss> =>
  (boss ??= start().catch((e: unknown) => {
    boss = undefined;
    throw e;
  }));

/** A kind of work, done by every process that works. `every` is a cron line (five fields, UTC) on which it is asked for on its own.
 *  Errors: `ask` throws what the database says. Work that throws is logged and tried again by the queue.
 */
export const defineJob = (name: string, work: () => Promise<void>, every?: string): Job => {
  defined.push({ name, work, every });
  return {
    ask: async (afterSeconds = 0) => {
      const b = await running();
      await b.send(name, {}, { startAfter: afterSeconds });
      const worker = workers.get(name);
      if (afterSeconds === 0 && worker !== undefined) b.notifyWorker(worker);
    },
  };
};

/** Takes work from now on. Errors: throws what the database says; what was begun goes on, and the rest is begun at the next call. */
export const takeJobs = async (): Promise<void> => {
  const b = await running();
  // Once, also where taking work failed and is tried again.
  runtime.once('lost answers of the queue', outliveLostAnswers);
  for (const { name, work, every } of defined) {
    if (workers.has(name)) continue;
    workers.set(name, await b.work(name, { pollingIntervalSeconds: LOOK_EVERY_S }, work));
    if (every !== undefined) await b.schedule(name, every);
  }
};

export const stopJobs = async (): Promise<void> => {
  const b = await boss?.catch(() => undefined);
  await b?.stop({ timeout: STOP_MS }).catch(() => undefined);
};
