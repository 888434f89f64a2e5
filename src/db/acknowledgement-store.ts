/** What people said about findings: acknowledged, why, until when, who fixes it. */
import type { Acknowledgement } from '../core/arrival/triage';
import type { Database } from './database';
import { THE_WORKSPACE } from './workspace-store';

export const acknowledgements = async ({ db }: Database): Promise<Acknowledgement[]> =>
  (await db.selectFrom('acknowledgements').selectAll().where('workspace_id', '=', THE_WORKSPACE).execute()).map((r) => ({
    key: r.finding_key,
    reason: r.reason,
    until: r.until.getTime(),
    assignee: r.assignee,
    author: r.author,
    at: r.at.getTime(),
    releases: r.releases ?? undefined,
    share: r.share ?? undefined,
  }));

/** Acknowledges a finding, or says it anew. */
export const acknowledge = async ({ db }: Database, a: Omit<Acknowledgement, 'at'>): Promise<void> => {
  const said = {
    reason: a.reason,
    until: new Date(a.until),
    assignee: a.assignee,
    author: a.author,
    at: new Date(),
    releases: a.releases ? [...a.releases] : null,
    share: a.share ?? null,
  };
  await db
    .insertInto('acknowledgements')
    .values({ workspace_id: THE_WORKSPACE, finding_key: a.key, ...said })
    .onConflict((c) => c.columns(['workspace_id', 'finding_key']).doUpdateSet(said))
    .execute();
};

/** Takes an acknowledgement back. */
export const withdrawAcknowledgement = async ({ db }: Database, key: string): Promise<void> => {
  await db.deleteFrom('acknowledgements').where('workspace_id', '=', THE_WORKSPACE).where('finding_key', '=', key).execute();
};
