/** Tokens with which other pages read the answers. */
import { createHash, randomBytes } from 'node:crypto';
import type { ReadToken } from '../core/api/read-tokens';
import type { Database } from './database';
import { THE_WORKSPACE } from './workspace-store';

const hashOf = (token: string): Buffer => createHash('sha256').update(token).digest();

/** Makes a token. Only its hash is stored; it is given out once. */
export const createReadToken = async ({ db }: Database, label: string, author: string): Promise<string> => {
  const token = `spr_${randomBytes(24).toString('base64url')}`;
  await db
    .insertInto('read_tokens')
    .values({ workspace_id: THE_WORKSPACE, hash: hashOf(token), label, author, revoked_at: null, last_used_at: null })
    .execute();
  return token;
};

/** Whether it may read. Notes, once a minute, that it was used. */
export const mayRead = async ({ pool }: Database, token: string): Promise<boolean> => {
  if (token === '') return false;
  const { rows } = await pool.query(
    `with found as (select id, last_used_at from read_tokens where hash = $1 and workspace_id = $2 and revoked_at is null),
     used as (
       update read_tokens t set last_used_at = now() from found f
       where t.id = f.id and (f.last_used_at is null or f.last_used_at < now() - interval '1 minute'))
     select id from found`,
    [hashOf(token), THE_WORKSPACE],
  );
  return rows.length > 0;
};

/** Those in use, newest first. */
export const readTokensOf = async ({ db }: Database): Promise<ReadToken[]> =>
  (
    await db
      .selectFrom('read_tokens')
      .selectAll()
      .where('workspace_id', '=', THE_WORKSPACE)
      .where('revoked_at', 'is', null)
      .orderBy('id', 'desc')
      .limit(200)
      .execute()
  ).map((r) => ({
    id: Number(r.id),
    label: r.label,
    author: r.author,
    createdAt: r.created_at.getTime(),
    lastUsedAt: r.last_used_at?.getTime(),
  }));

/** Ends one; whether there was it. */
export const endReadToken = async ({ db }: Database, id: number): Promise<boolean> => {
  const r = await db
    .updateTable('read_tokens')
    .set({ revoked_at: new Date() })
    .where('workspace_id', '=', THE_WORKSPACE)
    .where('id', '=', String(id))
    .where('revoked_at', 'is', null)
    .executeTakeFirst();
  return Number(r.numUpdatedRows) > 0;
};
