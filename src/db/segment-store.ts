/** Runs of messages as columns, kept so that a new process has them at once. Each begins where one ends. */
import { withClient } from './checkout';
import { copyOut, int64 } from './copy-out';
import type { Database } from './database';
import { THE_WORKSPACE } from './workspace-store';

export interface StoredSegment {
  /** Sequence number of the last message before it, and of its own last one. */
  readonly after: number;
  readonly upTo: number;
  readonly rows: number;
  readonly bytes: Uint8Array;
}

/** Gives the segments of a format to `take`, one behind the other, from the first message on.
 *  Errors: what `take` throws, and what the database says, reject.
 */
export const readSegments = (database: Database, format: number, take: (s: StoredSegment) => void): Promise<void> =>
  withClient(database, async (client) => {
    let upTo = 0;
    await copyOut(
      client,
      `select after, up_to, rows, bytes from column_segments
       where workspace_id = ${THE_WORKSPACE} and format = ${format} order by column_segments.after`,
      (all, view, at) => {
        const [after, last] = [int64(view, at + 4), int64(view, at + 16)];
        // What begins elsewhere than where one ends is of no use.
        if (after !== upTo) return;
        upTo = last;
        const from = at + 36;
        take({ after, upTo, rows: view.getInt32(at + 28), bytes: Uint8Array.from(all.subarray(from, from + view.getInt32(from - 4))) });
      },
    );
  });

/** Up to which message there are segments of this format, one behind the other. */
export const segmentsUpTo = async ({ db }: Database, format: number): Promise<number> => {
  const all = await db
    .selectFrom('column_segments')
    .select(['after', 'up_to'])
    .where('workspace_id', '=', THE_WORKSPACE)
    .where('format', '=', format)
    .orderBy('after')
    .execute();
  let upTo = 0;
  for (const s of all) if (Number(s.after) === upTo) upTo = Number(s.up_to);
  return upTo;
};

/** Keeps a segment; one of the same format that another process kept before stays. */
export const storeSegment = async ({ db }: Database, s: StoredSegment, format: number): Promise<void> => {
  const own = { up_to: String(s.upTo), rows: s.rows, format, bytes: Buffer.from(s.bytes.buffer, s.bytes.byteOffset, s.bytes.byteLength) };
  await db
    .insertInto('column_segments')
    .values({ workspace_id: THE_WORKSPACE, after: String(s.after), ...own })
    .onConflict((c) => c.columns(['workspace_id', 'after']).doUpdateSet(own).where('column_segments.format', '!=', format))
    .execute();
};

/** Throws all away: they are made again. */
export const dropSegments = async ({ db }: Database): Promise<void> => {
  await db.deleteFrom('column_segments').where('workspace_id', '=', THE_WORKSPACE).execute();
};
