/** Proposals: named sets of edits on a version of the plan, reviewed and then accepted or declined. */
import { sql } from 'kysely';
import type { Edit } from '../core/plan/edit';
import type { KeptRun, Proposal } from '../core/plan/review';
import type { DryRun } from '../core/scenario/dry-run';
import type { Database } from './database';
import { PEOPLE_CHANNEL, tellPeople } from './presence-store';
import { applyChangeIn, Conflict } from './plan-store';
import { THE_WORKSPACE } from './workspace-store';

const proposals = ({ db }: Database) =>
  db
    .selectFrom('proposals')
    .selectAll('proposals')
    .select((eb) =>
      eb
        .selectFrom('proposal_changes')
        .select((x) => x.fn.countAll<string>().as('n'))
        .whereRef('proposal_changes.proposal_id', '=', 'proposals.id')
        .as('changes'),
    )
    .where('workspace_id', '=', THE_WORKSPACE);

type Row = Awaited<ReturnType<ReturnType<typeof proposals>['execute']>>[number];

const toProposal = (r: Row): Proposal => ({
  id: r.id,
  name: r.name,
  note: r.note,
  author: r.author,
  at: r.at.getTime(),
  baseVersion: r.base_version,
  status: r.status,
  decidedBy: r.decided_by,
  decidedAt: r.decided_at?.getTime() ?? null,
  decisionNote: r.decision_note,
  changes: Number(r.changes ?? 0),
});

/** All proposals, newest first. */
export const listProposals = async (database: Database): Promise<Proposal[]> =>
  (await proposals(database).orderBy('at', 'desc').orderBy('id').limit(500).execute()).map(toProposal);

export const findProposal = async (database: Database, id: string): Promise<Proposal | undefined> => {
  const row = await proposals(database).where('id', '=', id).executeTakeFirst();
  return row && toProposal(row);
};

/** The edits of a proposal, in the order in which they were made. */
export const proposalEdits = async ({ db }: Database, id: string): Promise<{ edits: Edit[]; lastChange: number }> => {
  const rows = await db.selectFrom('proposal_changes').select(['seq', 'edits']).where('proposal_id', '=', id).orderBy('seq').execute();
  return { edits: rows.flatMap((r) => r.edits), lastChange: Number(rows.at(-1)?.seq ?? 0) };
};

export const createProposal = async (
  database: Database,
  p: { id: string; name: string; note: string; author: string; baseVersion: number },
): Promise<void> => {
  await database.db
    .insertInto('proposals')
    .values({ id: p.id, workspace_id: THE_WORKSPACE, name: p.name, note: p.note, author: p.author, base_version: p.baseVersion })
    .execute();
  await tellPeople(database);
};

/** Keeps what an open proposal would do, unless it was edited since it was looked at. Shape: why not, where it is not kept. */
export const keepRun = async (
  database: Database,
  id: string,
  lastChange: number,
  author: string,
  run: DryRun,
): Promise<'kept' | 'closed' | 'edited'> =>
  database.db.transaction().execute(async (tx) => {
    const row = await tx.selectFrom('proposals').select('status').where('id', '=', id).forUpdate().executeTakeFirst();
    if (row?.status !== 'open') return 'closed';
    const { last } = await tx
      .selectFrom('proposal_changes')
      .select((eb) => eb.fn.max<string | null>('seq').as('last'))
      .where('proposal_id', '=', id)
      .executeTakeFirstOrThrow();
    if (Number(last ?? 0) !== lastChange) return 'edited';
    await tx
      .insertInto('proposal_runs')
      .values({ proposal_id: id, author, last_change: String(lastChange), run: JSON.stringify(run) })
      .execute();
    return 'kept';
  });

const MOST_RUNS = 20;

/** The runs that were kept with a proposal, newest first; of many the newest. */
export const keptRuns = async ({ db }: Database, id: string, lastChange: number): Promise<KeptRun[]> =>
  (await db.selectFrom('proposal_runs').selectAll().where('proposal_id', '=', id).orderBy('id', 'desc').limit(MOST_RUNS).execute()).map(
    (r) => ({
      id: Number(r.id),
      author: r.author,
      at: r.at.getTime(),
      isOld: Number(r.last_change) !== lastChange,
      run: r.run,
    }),
  );

/** Adds edits to an open proposal when they fit what it holds now: `judge` says so, given all its edits, under a lock.
 *  Shape: the number of the change, or what `judge` found; `closed` when the proposal is no longer open.
 */
export const extendProposal = async <Problem>(
  database: Database,
  id: string,
  edits: readonly Edit[],
  label: string,
  author: string,
  judge: (before: readonly Edit[]) => Problem | undefined,
): Promise<{ change: number } | { problem: Problem } | 'closed'> =>
  database.db.transaction().execute(async (tx) => {
    const row = await tx.selectFrom('proposals').select('status').where('id', '=', id).forUpdate().executeTakeFirst();
    if (row?.status !== 'open') return 'closed';
    const before = await tx.selectFrom('proposal_changes').select('edits').where('proposal_id', '=', id).orderBy('seq').execute();
    const problem = judge(before.flatMap((r) => r.edits));
    if (problem !== undefined) return { problem };
    const made = await tx
      .insertInto('proposal_changes')
      .values({ proposal_id: id, author, label, edits: JSON.stringify(edits) })
      .returning('seq')
      .executeTakeFirstOrThrow();
    await sql`select pg_notify(${PEOPLE_CHANNEL}, '')`.execute(tx);
    return { change: Number(made.seq) };
  });

/** Closes an open proposal, in one transaction with what follows from it: `bringIn` gets the proposal's edits as they are under the lock
 *  of its row, and gives those that change the draft.
 *  Shape: `decided`, or why not: somebody was first, or the draft has moved on since `bringIn` looked at it; nothing is changed then.
 */
export const decideProposal = async (
  database: Database,
  id: string,
  status: 'accepted' | 'declined',
  author: string,
  note: string,
  bringIn: (edits: readonly Edit[]) => Promise<{ readonly edits: readonly Edit[]; readonly label: string } | 'conflicts'>,
): Promise<'decided' | 'closed' | 'conflicts' | 'draft moved'> => {
  try {
    const outcome = await database.db.transaction().execute(async (tx) => {
      const row = await tx.selectFrom('proposals').select('status').where('id', '=', id).forUpdate().executeTakeFirst();
      if (row?.status !== 'open') return 'closed';
      if (status === 'accepted') {
        const changes = await tx.selectFrom('proposal_changes').select('edits').where('proposal_id', '=', id).orderBy('seq').execute();
        const wanted = await bringIn(changes.flatMap((c) => c.edits));
        if (wanted === 'conflicts') return wanted;
        if (wanted.edits.length > 0) await applyChangeIn(tx, wanted.edits, {}, wanted.label, author);
      }
      await tx
        .updateTable('proposals')
        .set({ status, decided_by: author, decided_at: new Date(), decision_note: note })
        .where('id', '=', id)
        .execute();
      return 'decided';
    });
    if (outcome === 'decided') await tellPeople(database);
    return outcome;
  } catch (e) {
    if (e instanceof Conflict) return 'draft moved';
    throw e;
  }
};
