/** Work in the background, queued in PostgreSQL: whichever process is free takes it, and one that dies leaves it to the others. */
import PgBoss from 'pg-boss';
import { database } from './context';
import { log } from './log';

/** A queue holds at most one job that waits: the work is "bring it up to date", and once is enough. */
const POLICY = 'short';
/** A job that a dead process left is given to another after this; the work goes in pages that take a second or two. */
const GIVEN_UP_S = 120;
const LOOK_EVERY_S = 1;
const KEPT_S = 3600;

export interface Job {
  /** Asks for the work to be done, at once or after some seconds; where it waits already, that is enough. */
  ask(afterSeconds?: number): Promise<void>;
}

declare global {
  var signalPostJobs: Promise<PgBoss> | undefined;
}

const start = async (): Promise<PgBoss> => {
  const boss = new PgBoss({
    connectionString: database().url,
    max: 2,
    application_name: 'signal-post jobs',
    archiveCompletedAfterSeconds: KEPT_S,
    deleteAfterHours: 24,
    maintenanceIntervalSeconds: 60,
  });
  // A lost database is told by whatever needs it; the queue goes on by itself when it is back.
  boss.on('error', (e) => log.warn({ err: e }, 'background work'));
  return boss.start();
};

/** The process's queue; a start that failed is tried again at the next call. */
const running = (): Promise<PgBoss> =>
  (globalThis.signalPostJobs ??= start().catch((e: unknown) => {
    globalThis.signalPostJobs = undefined;
    throw e;
  }));

/** A kind of work, done by every process that knows it. `every` is a cron line (five fields, UTC) on which it is asked for by itself.
 *  Errors: `ask` throws what the database says. Work that throws is logged and tried again by the queue.
 */
export const defineJob = (name: string, work: () => Promise<void>, every?: string): Job => {
  let ready: Promise<{ boss: PgBoss; worker: string }> | undefined;
  const prepare = async (): Promise<{ boss: PgBoss; worker: string }> => {
    const boss = await running();
    await boss.createQueue(name, { name, policy: POLICY, expireInSeconds: GIVEN_UP_S, retryLimit: 3 });
    const worker = await boss.work(name, { pollingIntervalSeconds: LOOK_EVERY_S }, work);
    if (every !== undefined) await boss.schedule(name, every);
    return { boss, worker };
  };
  return {
    ask: async (afterSeconds = 0) => {
      ready ??= prepare().catch((e: unknown) => {
        ready = undefined;
        throw e;
      });
      const { boss, worker } = await ready;
      await boss.send(name, {}, { startAfter: afterSeconds });
      if (afterSeconds === 0) boss.notifyWorker(worker);
    },
  };
};
