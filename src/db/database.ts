/** The connection to PostgreSQL. */
import { Kysely, PostgresDialect } from 'kysely';
import pg from 'pg';
import { PatientPool } from './patient-pool';
import { quickSocket } from './quick-socket';
import type { Schema } from './schema';

const CONNECTED_WITHIN_MS = 5000;

export interface Database {
  readonly db: Kysely<Schema>;
  readonly pool: pg.Pool;
  readonly url: string;
}

/** Opens a pool. A lost connection is reported on stderr and fixed by the next query; it never ends the process. `withinMs`: the longest that a connection may take. */
export const openDatabase = (url: string, withinMs = CONNECTED_WITHIN_MS): Database => {
  const pool = new PatientPool({ connectionString: url, max: 12, connectionTimeoutMillis: withinMs, keepAlive: true, stream: quickSocket });
  pool.on('error', (e) => console.error(`database connection lost: ${e.message}`));
  // While one is out of the pool nobody else listens to it, and what nobody listens to ends the process. Its next statement fails.
  pool.on('connect', (client) => client.on('error', () => undefined));
  return { db: new Kysely<Schema>({ dialect: new PostgresDialect({ pool }) }), pool, url };
};

/** What the database says when it refuses a statement. */
export const { DatabaseError } = pg;

/** Whether the database says that it cannot hold what it was given: data exceptions (22), program limits such as an index row that is
 *  too long (54). Source: PostgreSQL documentation, appendix A.
 */
export const isOfContent = (e: unknown): boolean => e instanceof DatabaseError && /^(22|54)/.test(e.code ?? '');

/** Whether an error means that the database cannot be reached or written to just now, rather than that a statement was wrong: it is away, shuts down, is out
 *  of room or of connections, or stands by and takes no changes (25006). Source: PostgreSQL documentation, appendix A. */
export const isUnavailable = (e: unknown): boolean => {
  const { code = '', message = '' } = (e ?? {}) as { code?: string; message?: string };
  return (
    /^(57P0[1-3]|08|53|55000|57014|25006)/.test(code) ||
    ['ECONNREFUSED', 'ECONNRESET', 'ENOENT', 'EPIPE', 'ETIMEDOUT'].includes(code) ||
    /Connection terminated|connection timeout|timeout exceeded|not queryable/i.test(message)
  );
};

/** Resolves when the database answers; throws what keeps it from that. */
export const ping = async ({ pool }: Database): Promise<void> => {
  await pool.query('select 1');
};
