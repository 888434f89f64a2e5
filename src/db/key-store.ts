/** Write keys: made, looked up, limited, replaced and ended. */
import { createHash, randomBytes } from 'node:crypto';
import { sql } from 'kysely';
import type { WriteKey } from '../core/api/keys';
import type { Database } from './database';
import { THE_WORKSPACE } from './workspace-store';

export interface KnownKey {
  readonly id: number;
  readonly sourceId: string;
  readonly perMinute: number | undefined;
}

/** Says that a key ended: nobody may go by what it remembers. */
export const KEYS_CHANNEL = 'signal_post_keys';

const hashKey = (key: string): Buffer => createHash('sha256').update(key).digest();

/** Makes a write key for a source. Only its hash is stored; the key itself is given out once. */
export const createWriteKey = async (
  { db }: Database,
  sourceId: string,
  label: string,
  expiresAt: Date | null,
  perMinute: number | null = null,
): Promise<string> => {
  const key = `spk_${randomBytes(24).toString('base64url')}`;
  await db
    .insertInto('write_keys')
    .values({
      workspace_id: THE_WORKSPACE,
      source_id: sourceId,
      hash: hashKey(key),
      label,
      expires_at: expiresAt,
      revoked_at: null,
      per_minute: perMinute,
      last_used_at: null,
    })
    .execute();
  return key;
};

/** What a write key means; `undefined` when it is wrong, revoked or has run out. Notes, once a minute, that it was used. */
export const findKey = async ({ pool }: Database, key: string): Promise<KnownKey | undefined> => {
  const { rows } = await pool.query<{ id: string; source_id: string; per_minute: number | null }>(
    `with found as (
       select id, source_id, per_minute, last_used_at from write_keys
       where hash = $1 and revoked_at is null and (expires_at is null or expires_at > now())),
     used as (
       update write_keys w set last_used_at = now() from found f
       where w.id = f.id and (f.last_used_at is null or f.last_used_at < now() - interval '1 minute'))
     select id, source_id, per_minute from found`,
    [hashKey(key)],
  );
  const [r] = rows;
  return r && { id: Number(r.id), sourceId: r.source_id, perMinute: r.per_minute ?? undefined };
};

/** Takes so many messages off a key's limit for a minute; whether they fit. One counter for all processes. The first batch of a minute
 *  always fits, since one that is larger than the limit would never be taken otherwise.
 */
export const spend = async (
  { pool, db }: Database,
  keyId: number,
  minute: number,
  messages: number,
  perMinute: number,
): Promise<boolean> => {
  const { rows } = await pool.query<{ messages: string }>(
    `insert into key_usage as u values ($1, $2, $3)
     on conflict (key_id, minute) do update set messages = u.messages + $3 where u.messages + $3 <= $4 returning messages`,
    [keyId, minute, messages, perMinute],
  );
  if (Number(rows[0]?.messages) === messages)
    await db
      .deleteFrom('key_usage')
      .where('minute', '<', String(minute - 60))
      .execute();
  return rows.length > 0;
};

/** The keys of a source that are in use, newest first. */
export const keysOf = async ({ db }: Database, sourceId: string): Promise<WriteKey[]> =>
  (
    await db
      .selectFrom('write_keys')
      .selectAll()
      .where('workspace_id', '=', THE_WORKSPACE)
      .where('source_id', '=', sourceId)
      .where('revoked_at', 'is', null)
      .where((eb) => eb.or([eb('expires_at', 'is', null), eb('expires_at', '>', new Date())]))
      .orderBy('id', 'desc')
      .execute()
  ).map((r) => ({
    id: Number(r.id),
    label: r.label,
    createdAt: r.created_at.getTime(),
    expiresAt: r.expires_at?.getTime(),
    lastUsedAt: r.last_used_at?.getTime(),
    perMinute: r.per_minute ?? undefined,
  }));

/** How many keys are in use, of all sources. */
export const keysInUse = async ({ db }: Database): Promise<number> => {
  const { n } = await db
    .selectFrom('write_keys')
    .select((eb) => eb.fn.countAll<string>().as('n'))
    .where('workspace_id', '=', THE_WORKSPACE)
    .where('revoked_at', 'is', null)
    .where((eb) => eb.or([eb('expires_at', 'is', null), eb('expires_at', '>', new Date())]))
    .executeTakeFirstOrThrow();
  return Number(n);
};

/** Ends a key at once, or after some hours; whether there was one. */
export const endKey = async ({ db }: Database, id: number, hours: number): Promise<boolean> => {
  const ends = sql<Date>`now() + make_interval(hours => ${hours})`;
  const { numUpdatedRows } = await db
    .updateTable('write_keys')
    .set(hours === 0 ? { revoked_at: sql`now()` } : { expires_at: sql`least(coalesce(expires_at, 'infinity'), ${ends})` })
    .where('id', '=', String(id))
    .where('revoked_at', 'is', null)
    .executeTakeFirst();
  if (numUpdatedRows > 0n) await sql`select pg_notify(${KEYS_CHANNEL}, '')`.execute(db);
  return numUpdatedRows > 0n;
};
