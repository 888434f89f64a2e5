/** Whether anything was said that answers hang on, beside the messages themselves. */
import { sql } from 'kysely';
import type { Database } from './database';
import { THE_WORKSPACE } from './workspace-store';

export interface SoFar {
  /** Another one when the draft changed, something was published, or a finding was acknowledged or taken up again, a gate was waived or that ended,
   *  something was handed over or verified. */
  readonly said: string;
  /** Another one when the intake answered anything, or the checks over many looked. */
  readonly came: string;
}

export const soFar = async ({ db }: Database): Promise<SoFar> => {
  const { rows } = await sql<SoFar>`select concat_ws(' ',
      (select max(seq) from plan_changes where workspace_id = ${THE_WORKSPACE}),
      (select published_version from workspaces where id = ${THE_WORKSPACE}),
      (select count(*) || ' ' || coalesce(max(at)::text, '') from acknowledgements where workspace_id = ${THE_WORKSPACE}),
      (select concat_ws(' ', max(id), count(ended_at), count(*) filter (where until > now())) from waivers where workspace_id = ${THE_WORKSPACE}),
      (select max(id) from hand_overs where workspace_id = ${THE_WORKSPACE}),
      (select max(at) from trial_results where workspace_id = ${THE_WORKSPACE})) as said,
    concat_ws(' ',
      (select max(found_at) from many_findings where workspace_id = ${THE_WORKSPACE}),
      (select sum(accepted + duplicates + refused) from intake_counts where workspace_id = ${THE_WORKSPACE})) as came`.execute(db);
  return rows[0]!;
};
