/** Rechecks: recorded messages that a new version has still to judge. */
import type { JudgedMessage } from '../core/arrival/judged-message';
import { withClient } from './checkout';
import type { Database } from './database';
import { verdicts } from './verdict-rows';
import { THE_WORKSPACE } from './workspace-store';

/** Says after each page how far rechecks are. */
export const RECHECK_CHANNEL = 'signal_post_recheck';

export interface Recheck {
  readonly planVersion: number;
  readonly upTo: number;
  readonly done: number;
}

/** The rechecks that are not finished, oldest version first. */
export const openRechecks = async ({ db }: Database): Promise<Recheck[]> =>
  (
    await db
      .selectFrom('rechecks')
      .select(['plan_version', 'up_to', 'done'])
      .where('workspace_id', '=', THE_WORKSPACE)
      .where('finished_at', 'is', null)
      .orderBy('plan_version')
      .execute()
  ).map((r) => ({
    planVersion: r.plan_version,
    upTo: Number(r.up_to),
    done: Number(r.done),
  }));

/** Stores the verdicts of one page of a recheck and moves its mark on, in one transaction; false when another process was there first. */
export const storeRecheckPage = (database: Database, r: Recheck, upTo: number, judged: readonly JudgedMessage[]): Promise<boolean> =>
  withClient(database, async (client) => {
    await client.query('begin');
    const moved = await client.query(
      `update rechecks set done = $4, finished_at = case when $4 >= up_to then now() end
       where workspace_id = $1 and plan_version = $2 and done = $3 and finished_at is null`,
      [THE_WORKSPACE, r.planVersion, r.done, upTo],
    );
    if (moved.rowCount === 1) {
      const s = verdicts(r.planVersion, judged);
      if (s) await client.query(s.text, [...s.values]);
      await client.query(`select pg_notify('${RECHECK_CHANNEL}', '')`);
    }
    await client.query('commit');
    return moved.rowCount === 1;
  });
