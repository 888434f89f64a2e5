/** The workspace. */
import type { Database } from './database';

export const THE_WORKSPACE = 1;

/** Makes the one workspace, unless it is there. Whether it was made now. */
export const ensureWorkspace = async ({ pool }: Database, name: string): Promise<boolean> => {
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

/** Empties every table: for a demo whose loading was broken off. */
export const clearWorkspace = async ({ pool }: Database): Promise<void> => {
  await pool.query(`truncate workspaces, write_keys, plan_entities, plan_changes, plan_versions, message_keys, key_usage, dead_letters, messages, verdicts,
    intake_counts, rechecks, identifiers, links, persons, sign_offs, proposals, comments, presence restart identity cascade`);
};
