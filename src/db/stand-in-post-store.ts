/** What the stand-in receiver and the stand-in mailbox were sent; the newest are kept. */
import { sql } from 'kysely';
import type { Database } from './database';

export interface StandInPost {
  readonly id: number;
  /** UTC epoch ms. */
  readonly at: number;
  readonly head: Readonly<Record<string, string>>;
  readonly body: string;
}

export type PostKind = 'webhook' | 'mail';

const KEPT = 500;
const MAX_BODY = 200_000;

export const keepPost = async ({ db }: Database, kind: PostKind, head: StandInPost['head'], body: string): Promise<void> => {
  // PostgreSQL's texts have no NUL.
  const text = body.slice(0, MAX_BODY).replaceAll('\0', '');
  await db
    .insertInto('stand_in_post')
    .values({ kind, head: JSON.stringify(head), body: text })
    .execute();
  await sql`delete from stand_in_post where kind = ${kind} and id <= (select max(id) from stand_in_post) - ${KEPT}`.execute(db);
};

/** Newest first. */
export const postOf = async ({ db }: Database, kind: PostKind): Promise<StandInPost[]> =>
  (await db.selectFrom('stand_in_post').selectAll().where('kind', '=', kind).orderBy('id', 'desc').limit(50).execute()).map((r) => ({
    id: Number(r.id),
    at: r.at.getTime(),
    head: r.head,
    body: r.body,
  }));
