/** What the checks over many found. */
import { sql } from 'kysely';
import type { FoundGroup } from '../core/arrival/finding-group';
import type { Database } from './database';
import { THE_WORKSPACE } from './workspace-store';

export interface ManyFindings {
  /** Sequence number of the last message that was looked at. */
  readonly upTo: number;
  /** UTC epoch ms. */
  readonly at: number;
  readonly groups: readonly FoundGroup[];
}

/** What the checks over many last found under a version; `undefined` before they looked, and where an older build
 *  stored it in another shape: then they look anew.
 */
export const manyFound = async ({ db }: Database, planVersion: number): Promise<ManyFindings | undefined> => {
  const r = await db
    .selectFrom('many_findings')
    .selectAll()
    .where('workspace_id', '=', THE_WORKSPACE)
    .where('plan_version', '=', planVersion)
    .executeTakeFirst();
  return r?.groups.every((g) => 'outOf' in g) ? { upTo: Number(r.up_to), at: r.found_at.getTime(), groups: r.groups } : undefined;
};

/** Says that the checks over many found something else than before. */
export const FINDINGS_CHANNEL = 'signal_post_findings';

const groupsAsText = async (db: Database['db'], planVersion: number): Promise<string | undefined> =>
  (
    await db
      .selectFrom('many_findings')
      .select(sql<string>`groups::text`.as('groups'))
      .where('workspace_id', '=', THE_WORKSPACE)
      .where('plan_version', '=', planVersion)
      .executeTakeFirst()
  )?.groups;

/** Stores what they found; an older look never replaces a newer one. */
export const storeManyFound = async ({ db }: Database, planVersion: number, found: ManyFindings): Promise<void> => {
  const before = await groupsAsText(db, planVersion);
  const row = { up_to: String(found.upTo), found_at: new Date(found.at), groups: JSON.stringify(found.groups) };
  await db
    .insertInto('many_findings')
    .values({ workspace_id: THE_WORKSPACE, plan_version: planVersion, ...row })
    .onConflict((c) => c.columns(['workspace_id', 'plan_version']).doUpdateSet(row).where('many_findings.found_at', '<=', row.found_at))
    .execute();
  const after = await groupsAsText(db, planVersion);
  if (after !== before) await sql`select pg_notify(${FINDINGS_CHANNEL}, '')`.execute(db);
};
