/** `events PLAN FILES…`: captured messages against the plan. */
import { CaptureJudge } from '../../core/report/events-report';
import type { Report } from '../../core/report/report';
import { entries, type Id, type Plan } from '../../core/plan/plan';
import { isObject } from '../../core/plan/property-path';
import { parseInstant } from '../../core/plan/property-type';
import { aboutHowMany, captured } from '../input/captured';
import { readPlan } from '../input/plan-source';
import { plural } from '../../core/formats/format';
import { isMark } from '../../core/trial/capture';
import { EVERY, tidy } from '../memory';
import { misused } from '../trouble';

export interface EventsOptions {
  readonly source?: string | undefined;
  readonly intake: string;
  readonly now: number;
  /** Which source sends with which write key, or with one that begins so. */
  readonly keys: { readonly [key: string]: string };
  /** So many messages must be counted. */
  readonly min: number;
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

/** So much of a key is shown: it tells keys apart, and sends nothing. */
const SHOWN_OF_KEY = 8;

/** The source of a key: that of the longest beginning that is named. Errors: a source that the plan does not have. */
const keysOf = (plan: Plan, keys: EventsOptions['keys']): ((key: string) => Id | undefined) => {
  const known = Object.entries(keys)
    .map(([key, source]) => [key.replace(/(?:…|\.\.\.)$/, ''), sourceIdOf(plan, source)] as const)
    .sort(([a], [b]) => b.length - a.length);
  return (key) => known.find(([begins]) => key.startsWith(begins))?.[1];
};

export const eventsCommand = async (
  planPath: string,
  files: readonly string[],
  { source, intake, now, keys, min }: EventsOptions,
): Promise<Report> => {
  const given = await readPlan(planPath);
  const sourceId = source === undefined ? undefined : sourceIdOf(given.plan, source);
  // With one source there is nothing to ask.
  const sources = entries(given.plan, 'source').map(([id]) => id);
  const only = sourceId ?? (sources.length === 1 ? sources[0]! : 'captured');
  const byKey = keysOf(given.plan, keys);
  const unknownKeys = new Map<string, number>();
  const sourceOfKey = (key: string): string | undefined => {
    const found = byKey(key);
    if (found === undefined && sourceId === undefined && sources.length > 1)
      unknownKeys.set(key.slice(0, SHOWN_OF_KEY), (unknownKeys.get(key.slice(0, SHOWN_OF_KEY)) ?? 0) + 1);
    return found;
  };
  const judge = new CaptureJudge(given.plan);
  judge.expect(await aboutHowMany(files));
  const held = tidy();
  for (const file of files)
    for await (const c of captured(file, { intake, sourceOfKey })) {
      held();
      if ('problem' in c) {
        judge.broken(c.problem, c.place);
        continue;
      }
      // What was done in a trial, between its messages.
      if (isMark(c.value)) continue;
      const at =
        c.receivedAt ?? (isObject(c.value) && typeof c.value['time'] === 'string' ? parseInstant(c.value['time']) : undefined) ?? now;
      judge.add({ value: c.value, place: c.place, sourceId: sourceId ?? c.sourceId ?? only, receivedAt: at });
    }
  const report = judge.report(given.title, now, min, () => held(EVERY));
  return {
    ...report,
    facts: [
      ...report.facts,
      ...[...unknownKeys].map(
        ([key, n]) => `${plural(n, 'request')} with the key ${key}…, which no source has: name it with --key ${key}…=SOURCE`,
      ),
    ],
  };
};
