/** The workspace. */
import type { Database } from './database';

export const THE_WORKSPACE = 1;

/** Makes the one workspace, unless it is there. Whether it was made now. */
export const ensureWorkspace = async ({ pool }: Database, name: string): Promise<boolean> => {
  // Its number is the database's to give, but for this one, which Kysely cannot say.
  const made = await pool.query('insert into workspaces (id, name) overriding system value values ($1, $2) on conflict do nothing', [
    THE_WORKSPACE,
    name,
  ]);
  return made.rowCount === 1;
};

export const workspaceName = async ({ db }: Database): Promise<string | undefined> =>
  (await db.selectFrom('workspaces').select('name').where('id', '=', THE_WORKSPACE).executeTakeFirst())?.name;

export const renameWorkspace = async ({ db }: Database, name: string): Promise<void> => {
  await db.updateTable('workspaces').set({ name }).where('id', '=', THE_WORKSPACE).execute();
};

/** Empties every table but the list of migrations: for a demo whose loading was broken off. The database says which tables there are, so
 *  that none is forgotten, and none named that was dropped.
 */
export const clearWorkspace = async ({ pool }: Database): Promise<void> => {
  const { rows } = await pool.query<{ name: string }>(
    `select quote_ident(tablename) as name from pg_tables where schemaname = current_schema() and tablename not like 'kysely%'`,
  );
  await pool.query(`truncate ${rows.map((r) => r.name).join(', ')} restart identity cascade`);
};
