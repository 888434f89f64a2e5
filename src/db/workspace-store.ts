/** Workspaces and write keys. */
import { createHash, randomBytes } from 'node:crypto';
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
  await pool.query(`truncate workspaces, write_keys, plan_entities, plan_changes, plan_versions, message_keys, messages, verdicts, findings,
    intake_counts, rechecks, identifiers, links, persons, sign_offs, proposals, comments, presence restart identity cascade`);
};

export const hashKey = (key: string): Buffer => createHash('sha256').update(key).digest();

/** Makes a write key for a source. Only its hash is stored; the key itself is given out once. */
export const createWriteKey = async ({ db }: Database, sourceId: string, label: string, expiresAt: Date | null): Promise<string> => {
  const key = `spk_${randomBytes(24).toString('base64url')}`;
  await db
    .insertInto('write_keys')
    .values({ workspace_id: THE_WORKSPACE, source_id: sourceId, hash: hashKey(key), label, expires_at: expiresAt, revoked_at: null })
    .execute();
  return key;
};

/** The source that a write key belongs to; `undefined` when it is wrong, revoked or has run out. */
export const sourceOfKey = async ({ db }: Database, key: string): Promise<string | undefined> => {
  const row = await db
    .selectFrom('write_keys')
    .select('source_id')
    .where('hash', '=', hashKey(key))
    .where('revoked_at', 'is', null)
    .where((eb) => eb.or([eb('expires_at', 'is', null), eb('expires_at', '>', new Date())]))
    .executeTakeFirst();
  return row?.source_id;
};
