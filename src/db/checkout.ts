/** The one way to a connection of one's own. */
import type pg from 'pg';
import type { Database } from './database';

/** Works with a connection until done. A lost connection makes the statement that runs fail, and never ends the process; what is left in a
 *  transaction is rolled back, and a connection of which that cannot be said is thrown away.
 *  Errors: what `work` throws, or what ended the connection.
 */
export const withClient = async <T>({ pool }: Pick<Database, 'pool'>, work: (client: pg.PoolClient) => Promise<T>): Promise<T> => {
  const client = await pool.connect();
  let lost: Error | undefined;
  // Without a listener the loss of a connection that is out of the pool would be thrown at nobody.
  const onError = (e: Error): void => void (lost ??= e);
  client.on('error', onError);
  try {
    return await work(client);
  } catch (e) {
    await client.query('rollback').catch((rolled: unknown) => (lost ??= rolled as Error));
    throw e;
  } finally {
    client.removeListener('error', onError);
    client.release(lost);
  }
};

/** Does something that no other process does at the same time, by the number of a lock. Errors: what `work` throws, or what the database says. */
export const alone = <T>(database: Pick<Database, 'pool'>, lock: number, work: () => Promise<T>): Promise<T> =>
  withClient(database, async (client) => {
    await client.query('select pg_advisory_lock($1)', [lock]);
    try {
      return await work();
    } finally {
      // A connection that is lost has let go of it.
      await client.query('select pg_advisory_unlock($1)', [lock]).catch(() => undefined);
    }
  });
