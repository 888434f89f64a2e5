/** Findings of messages, added up by event, source and release. */
import type pg from 'pg';
import { THE_WORKSPACE } from './workspace-store';

export interface StoredFinding {
  readonly code: string;
  readonly severity: string;
  readonly path: readonly (string | number)[];
  readonly params: unknown;
}

/** One row of the findings table from the findings of several messages. */
interface Tally {
  code: string;
  event_name: string;
  field: string;
  source_id: string;
  release: string;
  severity: string;
  params: unknown;
  count: number;
  first_at: number;
  last_at: number;
  samples: string[];
}

export interface JudgedMessage {
  readonly seq: string;
  readonly name: string;
  readonly sourceId: string;
  readonly release: string;
  readonly occurredAt: number;
  readonly findings: readonly StoredFinding[];
}

const SAMPLES = 5;

const tallyOf = (judged: readonly JudgedMessage[]): Tally[] => {
  const tallies = new Map<string, Tally>();
  for (const m of judged)
    for (const f of m.findings) {
      const field = f.path.join('.');
      const key = JSON.stringify([f.code, m.name, field, m.sourceId, m.release]);
      const t = tallies.get(key);
      if (t) {
        t.count++;
        t.first_at = Math.min(t.first_at, m.occurredAt);
        t.last_at = Math.max(t.last_at, m.occurredAt);
        t.samples.push(m.seq);
        if (t.samples.length > SAMPLES) t.samples.shift();
        t.params = f.params;
      } else
        tallies.set(key, {
          code: f.code,
          event_name: m.name,
          field,
          source_id: m.sourceId,
          release: m.release,
          severity: f.severity,
          params: f.params,
          count: 1,
          first_at: m.occurredAt,
          last_at: m.occurredAt,
          samples: [m.seq],
        });
    }
  return [...tallies.values()];
};

/** Adds the findings of messages to the counts of a plan version. Runs in the caller's transaction. */
export const addTallies = async (client: pg.PoolClient, planVersion: number, judged: readonly JudgedMessage[]): Promise<void> => {
  const tallies = tallyOf(judged);
  if (tallies.length === 0) return;
  await client.query(
    `insert into findings
     select $1, $2, code, event_name, field, source_id, release, severity, params, count,
       to_timestamp(first_at / 1000.0), to_timestamp(last_at / 1000.0), samples
     from json_to_recordset($3) as t(code text, event_name text, field text, source_id text, release text, severity text, params json,
       count bigint, first_at float8, last_at float8, samples bigint[])
     order by code, event_name, field, source_id, release
     on conflict (workspace_id, plan_version, code, event_name, field, source_id, release) do update set
       count = findings.count + excluded.count, params = excluded.params, severity = excluded.severity,
       first_at = least(findings.first_at, excluded.first_at), last_at = greatest(findings.last_at, excluded.last_at),
       samples = (excluded.samples || findings.samples)[1:${SAMPLES}]`,
    [THE_WORKSPACE, planVersion, JSON.stringify(tallies)],
  );
};
