/** What was found on messages: kept for each, and counted. */
import { storableJson, tallyFindings, type JudgedMessage } from '../core/arrival/judged-message';
import type { Statement } from './one-message';
import { THE_WORKSPACE } from './workspace-store';

const SAMPLES = 5;

/** Keeps what was found on each message; `undefined` where there is nothing to keep. */
export const verdicts = (planVersion: number, judged: readonly JudgedMessage[]): Statement | undefined =>
  judged.length === 0
    ? undefined
    : {
        text: 'insert into verdicts select $1, $2, seq, findings from json_to_recordset($3) as t(seq bigint, findings json)',
        values: [THE_WORKSPACE, planVersion, storableJson(judged.map(({ seq, findings }) => ({ seq, findings })))],
      };

/** Adds the findings of messages to the counts of a plan version; `undefined` where there are none. */
export const tallies = (planVersion: number, judged: readonly JudgedMessage[]): Statement | undefined => {
  const counts = tallyFindings(judged);
  if (counts.length === 0) return undefined;
  return {
    text: `insert into findings
     select $1, $2, code, "eventName", field, "sourceId", release, severity, params, count,
       to_timestamp("firstAt" / 1000.0), to_timestamp("lastAt" / 1000.0), samples
     from json_to_recordset($3) as t(code text, "eventName" text, field text, "sourceId" text, release text, severity text, params json,
       count bigint, "firstAt" float8, "lastAt" float8, samples bigint[])
     order by code, "eventName", field, "sourceId", release
     on conflict (workspace_id, plan_version, code, event_name, field, source_id, release) do update set
       count = findings.count + excluded.count, params = excluded.params, severity = excluded.severity,
       first_at = least(findings.first_at, excluded.first_at), last_at = greatest(findings.last_at, excluded.last_at),
       samples = (excluded.samples || findings.samples)[1:${SAMPLES}]`,
    values: [THE_WORKSPACE, planVersion, storableJson(counts)],
  };
};
