/** Runs of trials with their marks and evidence, and what they verified. */
import { sql } from 'kysely';
import type { Mark } from '../core/trial/run';
import type { KeptTrialRun, TrialEvidence, TrialResult } from '../core/trial/trial-run';
import type { Database } from './database';
import { THE_WORKSPACE } from './workspace-store';

const columns = [
  'id', 'trial_id', 'script', 'rules', 'plan_version', 'plan_hash', 'tester', 'environment', 'author', 'marks', 'from_seq', 'started_at', 'touched_at', 'ended_at', 'state',
] as const; // prettier-ignore

const rows = ({ db }: Pick<Database, 'db'>) => db.selectFrom('trial_runs').select(columns).where('workspace_id', '=', THE_WORKSPACE);
type Row = Awaited<ReturnType<ReturnType<typeof rows>['execute']>>[number];

export interface StoredRun extends KeptTrialRun {
  /** Messages after this number may be of the run. */
  readonly fromSeq: number;
}

const toRun = (r: Row): StoredRun => ({
  id: r.id,
  trialId: r.trial_id,
  script: r.script,
  rules: r.rules as StoredRun['rules'],
  planVersion: r.plan_version,
  planHash: r.plan_hash,
  tester: r.tester,
  environment: r.environment,
  author: r.author,
  marks: r.marks,
  fromSeq: Number(r.from_seq),
  startedAt: r.started_at.getTime(),
  touchedAt: r.touched_at.getTime(),
  endedAt: r.ended_at?.getTime() ?? null,
  state: r.state as StoredRun['state'],
});

const MOST = 100;

/** Newest first. */
export const trialRunsOf = async (database: Database, trialId: string | undefined): Promise<StoredRun[]> => {
  let q = rows(database).orderBy('started_at', 'desc').limit(MOST);
  if (trialId !== undefined) q = q.where('trial_id', '=', trialId);
  return (await q.execute()).map(toRun);
};

export const findTrialRun = async (database: Database, id: string): Promise<StoredRun | undefined> => {
  const r = await rows(database).where('id', '=', id).executeTakeFirst();
  return r && toRun(r);
};

/** Begins a run, unless one of the same tester is under way: that one then.
 *  Shape: `openSince` UTC epoch ms; a run that nobody touched since is abandoned, and in nobody's way.
 */
export const beginTrialRun = async (
  { db }: Database,
  run: Omit<StoredRun, 'marks' | 'startedAt' | 'touchedAt' | 'endedAt' | 'state' | 'fromSeq'>,
  openSince: number,
): Promise<StoredRun | undefined> =>
  db.transaction().execute(async (tx) => {
    const tester = JSON.stringify(run.tester);
    // Two who begin at once are asked one after the other.
    await sql`select pg_advisory_xact_lock(hashtextextended(${`trial ${tester}`}, 0))`.execute(tx);
    const open = await rows({ db: tx })
      .where('ended_at', 'is', null)
      .where('touched_at', '>', new Date(openSince))
      .where(sql<boolean>`tester = ${tester}::jsonb`)
      .where('environment', '=', run.environment)
      .executeTakeFirst();
    if (open) return toRun(open);
    await tx
      .insertInto('trial_runs')
      .values({
        id: run.id,
        workspace_id: THE_WORKSPACE,
        trial_id: run.trialId,
        script: JSON.stringify(run.script),
        rules: run.rules,
        plan_version: run.planVersion,
        plan_hash: run.planHash,
        tester,
        environment: run.environment,
        author: run.author,
        from_seq: sql<string>`coalesce((select max(seq) from messages where workspace_id = ${THE_WORKSPACE}), 0)`,
        ended_at: null,
        evidence: null,
      })
      .execute();
    return undefined;
  });

/** Adds a mark to a run that has not ended; whether it was added. */
export const addTrialMark = async ({ db }: Database, id: string, mark: Mark): Promise<boolean> => {
  const r = await db
    .updateTable('trial_runs')
    .set({ marks: sql`marks || ${JSON.stringify([mark])}::jsonb`, touched_at: new Date() })
    .where('workspace_id', '=', THE_WORKSPACE)
    .where('id', '=', id)
    .where('ended_at', 'is', null)
    .executeTakeFirst();
  return Number(r.numUpdatedRows) > 0;
};

export const noteTrialState = async ({ db }: Database, id: string, state: string): Promise<void> => {
  await db
    .updateTable('trial_runs')
    .set({ state })
    .where('id', '=', id)
    .where('state', '!=', state)
    .where('ended_at', 'is', null)
    .execute();
};

/** Ends a run with its evidence, and notes what it showed; whether it had not ended before. */
export const endTrialRun = async ({ db }: Database, run: StoredRun, evidence: TrialEvidence, isPublished: boolean): Promise<boolean> =>
  db.transaction().execute(async (tx) => {
    const r = await tx
      .updateTable('trial_runs')
      .set({ ended_at: new Date(), touched_at: new Date(), state: evidence.verdict.state, evidence: JSON.stringify(evidence) })
      .where('workspace_id', '=', THE_WORKSPACE)
      .where('id', '=', run.id)
      .where('ended_at', 'is', null)
      .executeTakeFirst();
    if (Number(r.numUpdatedRows) === 0) return false;
    const { verified, refuted = [] } = evidence.verdict;
    const shown = [...verified.map((v) => ({ ...v, passed: true })), ...refuted.map((v) => ({ ...v, passed: false }))];
    if (isPublished && shown.length > 0)
      await tx
        .insertInto('trial_results')
        .values(
          shown.map((v) => ({
            run_id: run.id,
            workspace_id: THE_WORKSPACE,
            event_name: v.event,
            source_id: v.sourceId,
            release: v.release,
            passed: v.passed,
            plan_version: run.planVersion,
            author: run.author,
          })),
        )
        .execute();
    return true;
  });

export const trialEvidenceOf = async ({ db }: Database, id: string): Promise<TrialEvidence | undefined> =>
  (await db.selectFrom('trial_runs').select('evidence').where('workspace_id', '=', THE_WORKSPACE).where('id', '=', id).executeTakeFirst())?.evidence ?? undefined; // prettier-ignore

/** What trials showed, newest first; of each event, source and release the newest alone. */
export const trialResults = async ({ db }: Database): Promise<TrialResult[]> =>
  (
    await db
      .selectFrom('trial_results')
      .selectAll()
      .distinctOn(['event_name', 'source_id', 'release'])
      .where('workspace_id', '=', THE_WORKSPACE)
      .orderBy('event_name')
      .orderBy('source_id')
      .orderBy('release')
      .orderBy('at', 'desc')
      .execute()
  )
    .map((r) => ({
      eventName: r.event_name,
      sourceId: r.source_id,
      release: r.release,
      planVersion: r.plan_version,
      author: r.author,
      runId: r.run_id,
      at: r.at.getTime(),
      passed: r.passed,
    }))
    .sort((a, b) => b.at - a.at);

/** Runs that are open and whose tester is told by an address. */
export const addressRuns = async ({ db }: Database): Promise<{ readonly id: string; readonly address: string }[]> =>
  (
    await db
      .selectFrom('trial_runs')
      .select(['id', 'tester'])
      .where('workspace_id', '=', THE_WORKSPACE)
      .where('ended_at', 'is', null)
      .where(sql<boolean>`tester->>'by' = 'address'`)
      .orderBy('started_at', 'desc')
      .limit(MOST)
      .execute()
  ).map((r) => ({ id: r.id, address: r.tester.value }));

export const keepSenders = async ({ db }: Database, runId: string, sourceId: string, messageIds: readonly string[]): Promise<void> => {
  await db
    .insertInto('trial_senders')
    .values([...new Set(messageIds)].map((message_id) => ({ run_id: runId, source_id: sourceId, message_id })))
    .onConflict((c) => c.doNothing())
    .execute();
};

/** The sequence numbers of what came from the address of a run, in the order of arrival. */
export const seqsOfSenders = async ({ db }: Database, runId: string, fromSeq: number): Promise<number[]> =>
  (
    await db
      .selectFrom('trial_senders as s')
      .innerJoin('messages as m', (j) => j.onRef('m.source_id', '=', 's.source_id').onRef('m.message_id', '=', 's.message_id'))
      .select('m.seq')
      .where('s.run_id', '=', runId)
      .where('m.workspace_id', '=', THE_WORKSPACE)
      .where('m.seq', '>', String(fromSeq))
      .orderBy('m.seq')
      .limit(10_000)
      .execute()
  ).map((r) => Number(r.seq));
