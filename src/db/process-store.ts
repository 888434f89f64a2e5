/** The processes that run on this database now, and what each does. */
import { sql } from 'kysely';
import type { Database } from './database';

export interface RunningProcess {
  readonly id: string;
  readonly roles: readonly string[];
  /** Where it answers, as an address without a path. */
  readonly address: string;
}

/** What has not been heard of for this long is gone, in seconds by the clock of the database. */
const GONE_AFTER_S = 15;
const FORGOTTEN_AFTER_S = 3600;

/** Says that a process runs; those that have long gone are forgotten. */
export const noteProcess = async ({ db }: Database, { id, roles, address }: RunningProcess): Promise<void> => {
  await sql`insert into processes (id, roles, address) values (${id}, ${[...roles]}, ${address})
    on conflict (id) do update set roles = excluded.roles, address = excluded.address, seen_at = now()`.execute(db);
  await sql`delete from processes where seen_at < now() - make_interval(secs => ${FORGOTTEN_AFTER_S})`.execute(db);
};

export const forgetProcess = async ({ db }: Database, id: string): Promise<void> => {
  await db.deleteFrom('processes').where('id', '=', id).execute();
};

/** Those that were heard of lately, in no order that means anything. */
export const runningProcesses = async ({ db }: Database): Promise<RunningProcess[]> =>
  db
    .selectFrom('processes')
    .select(['id', 'roles', 'address'])
    .where(sql<boolean>`seen_at > now() - make_interval(secs => ${GONE_AFTER_S})`)
    .orderBy('id')
    .execute();
