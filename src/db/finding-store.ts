/** The counts of findings on messages. */
import type { FindingCount } from '../core/arrival/finding-group';
import type { Database } from './database';
import { THE_WORKSPACE } from './workspace-store';

/** The findings under a plan version, by source and release. */
export const findingCounts = async ({ db }: Database, planVersion: number): Promise<FindingCount[]> =>
  (
    await db
      .selectFrom('findings')
      .selectAll()
      .where('workspace_id', '=', THE_WORKSPACE)
      .where('plan_version', '=', planVersion)
      .orderBy('first_at')
      .execute()
  ).map((r) => ({
    code: r.code,
    eventName: r.event_name,
    field: r.field,
    sourceId: r.source_id,
    release: r.release,
    severity: r.severity as FindingCount['severity'],
    params: r.params,
    count: Number(r.count),
    firstAt: r.first_at.getTime(),
    lastAt: r.last_at.getTime(),
    samples: r.samples.map(Number),
  }));
