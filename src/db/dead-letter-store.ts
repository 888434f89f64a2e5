/** What the intake could not read, as it came: to be searched, mended and sent again. */
import { sql } from 'kysely';
import type { DeadLetter, RefusedBytes } from '../core/arrival/dead-letter';
import type { Database } from './database';
import { THE_WORKSPACE } from './workspace-store';

/** So many are kept, the newest; and of each so many bytes. */
const MOST = 10_000;
const MOST_BYTES = 64_000;

/** Keeps what was refused. */
export const keepDeadLetters = async ({ pool }: Database, sourceId: string, refused: readonly RefusedBytes[]): Promise<void> => {
  if (refused.length === 0) return;
  const bytes = refused.map((r) => Buffer.from(r.bytes.buffer, r.bytes.byteOffset, Math.min(r.bytes.byteLength, MOST_BYTES)));
  await pool.query(
    `insert into dead_letters (workspace_id, source_id, reason, detail, bytes, size)
     select $1, $2, reason, detail, bytes, size from unnest($3::text[], $4::text[], $5::bytea[], $6::bigint[]) as t(reason, detail, bytes, size)`,
    [THE_WORKSPACE, sourceId, refused.map((r) => r.reason), refused.map((r) => r.detail), bytes, refused.map((r) => r.bytes.byteLength)],
  );
  await pool.query(`delete from dead_letters where workspace_id = $1 and id <= (select max(id) from dead_letters) - $2`, [
    THE_WORKSPACE,
    MOST,
  ]);
};

const textOf = (bytes: Buffer): { text: string; readable: boolean } => {
  try {
    return { text: new TextDecoder('utf-8', { fatal: true }).decode(bytes), readable: true };
  } catch {
    return { text: bytes.toString('latin1'), readable: false };
  }
};

/** The newest that hold a text, in their bytes, reason or source; those that were sent again are left out. */
export const deadLetters = async ({ pool }: Database, like: string, limit: number): Promise<DeadLetter[]> => {
  const { rows } = await pool.query<{
    id: string;
    at: Date;
    source_id: string;
    reason: string;
    detail: string;
    bytes: Buffer;
    size: string;
  }>(
    `select id, at, source_id, reason, detail, bytes, size from dead_letters
     where workspace_id = $1 and replayed_at is null
       and ($2 = '' or position(convert_to($2, 'UTF8') in bytes) > 0 or position(lower($2) in lower(reason || ' ' || source_id)) > 0)
     order by id desc limit $3`,
    [THE_WORKSPACE, like, limit],
  );
  return rows.map((r) => ({
    id: Number(r.id),
    at: r.at.getTime(),
    sourceId: r.source_id,
    reason: r.reason,
    detail: r.detail,
    size: Number(r.size),
    whole: Number(r.size) === r.bytes.length,
    ...textOf(r.bytes),
  }));
};

export const deadLetterSource = async ({ db }: Database, id: number): Promise<string | undefined> =>
  (await db.selectFrom('dead_letters').select('source_id').where('id', '=', String(id)).executeTakeFirst())?.source_id;

/** Notes that it was sent again. */
export const markReplayed = async ({ db }: Database, id: number): Promise<void> => {
  await db
    .updateTable('dead_letters')
    .set({ replayed_at: sql`now()` })
    .where('id', '=', String(id))
    .execute();
};
