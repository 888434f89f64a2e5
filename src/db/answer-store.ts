/** The answers as they were last worked out. */
import { sql } from 'kysely';
import type { Answer } from '../core/clearance/answer';
import type { Database } from './database';
import { LOCKS } from './locks';
import { THE_WORKSPACE } from './workspace-store';

export interface KeptAnswers {
  readonly version: number;
  /** UTC epoch ms. */
  readonly at: number;
  readonly answers: readonly Answer[];
}

/** Keeps them in place of what was kept before. Of two looks the newer one stays. */
export const keepAnswers = async ({ db }: Database, { version, at, answers }: KeptAnswers): Promise<void> => {
  await db.transaction().execute(async (tx) => {
    await sql`select pg_advisory_xact_lock(${LOCKS.answers})`.execute(tx);
    const newest = await tx
      .selectFrom('answers')
      .select('at')
      .where('workspace_id', '=', THE_WORKSPACE)
      .orderBy('at', 'desc')
      .limit(1)
      .executeTakeFirst();
    if (newest && newest.at.getTime() > at) return;
    await tx.deleteFrom('answers').where('workspace_id', '=', THE_WORKSPACE).execute();
    if (answers.length > 0)
      await tx
        .insertInto('answers')
        .values(
          answers.map((a, place) => ({
            workspace_id: THE_WORKSPACE,
            question_id: a.questionId,
            place,
            version,
            at: new Date(at),
            body: JSON.stringify(a),
          })),
        )
        .execute();
  });
};

/** All of them, in the order of the plan, or one; `undefined` before anybody looked. */
export const keptAnswers = async ({ db }: Database, questionId?: string): Promise<KeptAnswers | undefined> => {
  let found = db.selectFrom('answers').select(['version', 'at', 'body']).where('workspace_id', '=', THE_WORKSPACE);
  if (questionId !== undefined) found = found.where('question_id', '=', questionId);
  const rows = await found.orderBy('place').execute();
  const [first] = rows;
  return first && { version: first.version, at: first.at.getTime(), answers: rows.map((r) => r.body) };
};
