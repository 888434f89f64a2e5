/** What the intake could not read, as it came: to be searched, fixed and sent again. */
import { sql } from 'kysely';
import type { DeadLetter, RejectedBytes } from '../core/arrival/dead-letter';
import { storable } from '../core/arrival/judged-message';
import type { Database } from './database';
import { THE_WORKSPACE } from './workspace-store';

/** Of each source so many are kept, the newest, and of each reason among them so many at least: one sender who is wrong all the time evicts nobody
 *  else's. Of each so many bytes.
 */
const MAX = 5000;
const MAX_OF_A_REASON = 500;
const MAX_BYTES = 64_000;
/** What is too much is thrown away after so many more of a source, since that looks through all of them. */
const TOGETHER = 500;
const since = new WeakMap<Database, Map<string, number>>();

/** Whether it is time to throw away; a process that just began does so first. */
const isTime = (database: Database, sourceId: string, more: number): boolean => {
  let bySource = since.get(database);
  if (!bySource) since.set(database, (bySource = new Map<string, number>()));
  const n = (bySource.get(sourceId) ?? TOGETHER) + more;
  bySource.set(sourceId, n >= TOGETHER ? 0 : n);
  return n >= TOGETHER;
};

/** Keeps what was rejected. */
export const keepDeadLetters = async (database: Database, sourceId: string, rejected: readonly RejectedBytes[]): Promise<void> => {
  if (rejected.length === 0) return;
  const { pool } = database;
  // No more than would be kept.
  const newest = rejected.slice(-MAX);
  const bytes = newest.map((r) => Buffer.from(r.bytes.buffer, r.bytes.byteOffset, Math.min(r.bytes.byteLength, MAX_BYTES)));
  await pool.query(
    `insert into dead_letters (workspace_id, source_id, reason, detail, bytes, size)
     select $1, $2, reason, detail, bytes, size from unnest($3::text[], $4::text[], $5::bytea[], $6::bigint[]) as t(reason, detail, bytes, size)`,
    [
      THE_WORKSPACE,
      sourceId,
      newest.map((r) => storable(r.reason)),
      // What is wrong may quote what was sent.
      newest.map((r) => storable(r.detail).slice(0, 2000)),
      bytes,
      newest.map((r) => r.bytes.byteLength),
    ],
  );
  if (!isTime(database, sourceId, rejected.length)) return;
  await pool.query(
    `delete from dead_letters d using (
       select id, row_number() over (order by id desc) as of_source, row_number() over (partition by reason order by id desc) as of_reason
       from dead_letters where workspace_id = $1 and source_id = $2) n
     where d.id = n.id and n.of_source > $3 and n.of_reason > $4`,
    [THE_WORKSPACE, sourceId, MAX, MAX_OF_A_REASON],
  );
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
