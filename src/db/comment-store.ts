/** Comments on entities of the plan and on proposals. */
import type { Comment } from '../core/plan/review';
import type { Database } from './database';
import { tellPeople } from './presence-store';
import { THE_WORKSPACE } from './workspace-store';

/** All comments on drafts and proposals, oldest first; those on one proposal when it is given. */
export const listComments = async ({ db }: Database, proposalId?: string): Promise<Comment[]> => {
  let query = db.selectFrom('comments').selectAll().where('workspace_id', '=', THE_WORKSPACE);
  if (proposalId !== undefined) query = query.where('proposal_id', '=', proposalId);
  return (await query.orderBy('id').limit(5000).execute()).map((r) => ({
    id: Number(r.id),
    proposalId: r.proposal_id,
    kind: r.kind,
    entityId: r.entity_id,
    author: r.author,
    at: r.at.getTime(),
    body: r.body,
    resolvedBy: r.resolved_by,
  }));
};

export const addComment = async (
  database: Database,
  c: { proposalId: string | null; kind: string; entityId: string; author: string; body: string },
): Promise<number> => {
  const row = await database.db
    .insertInto('comments')
    .values({ workspace_id: THE_WORKSPACE, proposal_id: c.proposalId, kind: c.kind, entity_id: c.entityId, author: c.author, body: c.body })
    .returning('id')
    .executeTakeFirstOrThrow();
  await tellPeople(database);
  return Number(row.id);
};

/** Marks a comment as settled, or opens it again; false when there is none of this number. */
export const settleComment = async (database: Database, id: number, author: string, settled: boolean): Promise<boolean> => {
  const r = await database.db
    .updateTable('comments')
    .set(settled ? { resolved_by: author, resolved_at: new Date() } : { resolved_by: null, resolved_at: null })
    .where('workspace_id', '=', THE_WORKSPACE)
    .where('id', '=', String(id))
    .executeTakeFirst();
  await tellPeople(database);
  return r.numUpdatedRows > 0n;
};
