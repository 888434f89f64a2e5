/** The counts of findings on messages, added to those that are stored. */
import type pg from 'pg';
import { tallyFindings, type JudgedMessage } from '../core/arrival/tally';
import { THE_WORKSPACE } from './workspace-store';

const SAMPLES = 5;

/** Adds the findings of messages to the counts of a plan version. Runs in the caller's transaction. */
export const addTallies = async (client: pg.PoolClient, planVersion: number, judged: readonly JudgedMessage[]): Promise<void> => {
  const tallies = tallyFindings(judged);
  if (tallies.length === 0) return;
  await client.query(
    `insert into findings
     select $1, $2, code, "eventName", field, "sourceId", release, severity, params, count,
       to_timestamp("firstAt" / 1000.0), to_timestamp("lastAt" / 1000.0), samples
     from json_to_recordset($3) as t(code text, "eventName" text, field text, "sourceId" text, release text, severity text, params json,
       count bigint, "firstAt" float8, "lastAt" float8, samples bigint[])
     order by code, "eventName", field, "sourceId", release
     on conflict (workspace_id, plan_version, code, event_name, field, source_id, release) do update set
       count = findings.count + excluded.count, params = excluded.params, severity = excluded.severity,
       first_at = least(findings.first_at, excluded.first_at), last_at = greatest(findings.last_at, excluded.last_at),
       samples = (excluded.samples || findings.samples)[1:${SAMPLES}]`,
    [THE_WORKSPACE, planVersion, JSON.stringify(tallies)],
  );
};
