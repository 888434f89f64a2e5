/** Gates that somebody answers for. */
import type { GateId } from '../core/clearance/gate';
import type { Waiver } from '../core/clearance/waiver';
import type { Database } from './database';
import { THE_WORKSPACE } from './workspace-store';

const rows = ({ db }: Database) => db.selectFrom('waivers').selectAll().where('workspace_id', '=', THE_WORKSPACE);
type Row = Awaited<ReturnType<ReturnType<typeof rows>['execute']>>[number];

const toWaiver = (r: Row): Waiver => ({
  id: Number(r.id),
  questionId: r.question_id,
  gate: r.gate as GateId,
  reason: r.reason,
  author: r.author,
  at: r.at.getTime(),
  until: r.until.getTime(),
  endedAt: r.ended_at?.getTime() ?? null,
  because: r.because,
});

const MOST = 100;

/** Those of a question, newest first; ended ones too. */
export const waiversOf = async (database: Database, questionId: string): Promise<Waiver[]> =>
  (await rows(database).where('question_id', '=', questionId).orderBy('id', 'desc').limit(MOST).execute()).map(toWaiver);

/** Those that nobody took back and whose end has not come, by question. */
export const holdingWaivers = async (database: Database, now: number): Promise<ReadonlyMap<string, readonly Waiver[]>> => {
  const all = (await rows(database).where('ended_at', 'is', null).where('until', '>', new Date(now)).orderBy('id', 'desc').execute()).map(
    toWaiver,
  );
  const byQuestion = new Map<string, Waiver[]>();
  for (const w of all) byQuestion.set(w.questionId, [...(byQuestion.get(w.questionId) ?? []), w]);
  return byQuestion;
};

/** Waives a gate; whoever did so before is replaced. */
export const waive = async ({ db }: Database, w: Pick<Waiver, 'questionId' | 'gate' | 'reason' | 'author' | 'until'>): Promise<void> => {
  await db.transaction().execute(async (tx) => {
    await tx
      .updateTable('waivers')
      .set({ ended_at: new Date(), because: `${w.author} waived it anew.` })
      .where('workspace_id', '=', THE_WORKSPACE)
      .where('question_id', '=', w.questionId)
      .where('gate', '=', w.gate)
      .where('ended_at', 'is', null)
      .execute();
    await tx
      .insertInto('waivers')
      .values({
        workspace_id: THE_WORKSPACE,
        question_id: w.questionId,
        gate: w.gate,
        reason: w.reason,
        author: w.author,
        until: new Date(w.until),
      })
      .execute();
  });
};

/** Ends the waiver of a gate; whether there was one. */
export const endWaiver = async ({ db }: Database, questionId: string, gate: string, because: string): Promise<boolean> => {
  const r = await db
    .updateTable('waivers')
    .set({ ended_at: new Date(), because: because.slice(0, 2000) })
    .where('workspace_id', '=', THE_WORKSPACE)
    .where('question_id', '=', questionId)
    .where('gate', '=', gate)
    .where('ended_at', 'is', null)
    .where('until', '>', new Date())
    .executeTakeFirst();
  return Number(r.numUpdatedRows) > 0;
};
