/** A pool that tells a database that does not answer from a thread that was too busy to listen. */
import { performance } from 'node:perf_hooks';
import pg from 'pg';

/** A thread that computed for so much of the time while it waited has heard nothing, whatever was said to it: the timer that goes off first says nothing. */
const BUSY = 0.5;
/** So often it is tried again. */
const TRIES = 3;

const isTimeout = (e: unknown): boolean => e instanceof Error && /timeout/i.test(e.message);

type Called = (e: Error | undefined, client: pg.PoolClient | undefined, done: (release?: unknown) => void) => void;

export class PatientPool extends pg.Pool {
  override connect(): Promise<pg.PoolClient>;
  override connect(called: Called): void;
  override connect(called?: Called): Promise<pg.PoolClient> | undefined {
    const coming = this.connected();
    if (!called) return coming;
    // Not within the promise: what whoever called throws is theirs.
    coming.then(
      (client) => process.nextTick(() => called(undefined, client, client.release.bind(client) as (release?: unknown) => void)),
      (e: unknown) => process.nextTick(() => called(e as Error, undefined, () => undefined)),
    );
    return undefined;
  }

  private async connected(): Promise<pg.PoolClient> {
    for (let tries = 1; ; tries++) {
      const from = performance.eventLoopUtilization();
      try {
        return await super.connect();
      } catch (e) {
        if (!isTimeout(e) || tries === TRIES || performance.eventLoopUtilization(from).utilization < BUSY) throw e;
      }
    }
  }
}
