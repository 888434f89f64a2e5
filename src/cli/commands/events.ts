/** `events PLAN FILES…`: captured messages against the plan. */
import { CaptureJudge } from '../../core/report/events-report';
import type { Report } from '../../core/report/report';
import { entries, type Id, type Plan } from '../../core/plan/plan';
import { isObject } from '../../core/plan/property-path';
import { parseInstant } from '../../core/plan/property-type';
import { captured } from '../input/captured';
import { readPlan } from '../input/plan-source';
import { misused } from '../trouble';

export interface EventsOptions {
  readonly source?: string | undefined;
  readonly intake: string;
  readonly now: number;
}

/** A source by its ID or its name. */
export const sourceIdOf = (plan: Plan, text: string): Id => {
  const found = entries(plan, 'source').find(([id, s]) => id === text || s.name === text)?.[0];
  if (found !== undefined) return found;
  throw misused(
    `The plan has no source “${text}”. It has ${
      entries(plan, 'source')
        .map(([id, s]) => `${id} (${s.name})`)
        .join(', ') || 'none'
    }.`,
  );
};

export const eventsCommand = async (
  planPath: string,
  files: readonly string[],
  { source, intake, now }: EventsOptions,
): Promise<Report> => {
  const given = await readPlan(planPath);
  const sourceId = source === undefined ? undefined : sourceIdOf(given.plan, source);
  // With one source there is nothing to ask.
  const sources = entries(given.plan, 'source').map(([id]) => id);
  const only = sourceId ?? (sources.length === 1 ? sources[0]! : 'captured');
  const judge = new CaptureJudge(given.plan);
  for (const file of files)
    for await (const c of captured(file, { intake })) {
      if ('problem' in c) {
        judge.broken(c.problem, c.place);
        continue;
      }
      const at =
        c.receivedAt ?? (isObject(c.value) && typeof c.value['time'] === 'string' ? parseInstant(c.value['time']) : undefined) ?? now;
      judge.add({ value: c.value, text: c.text, place: c.place, sourceId: sourceId ?? c.sourceId ?? only, receivedAt: at });
    }
  return judge.report(given.title, now);
};
