/** The findings on what arrived, grouped by cause. */
import { findsPremature, reconcile, unconfirmedAttempts } from '../core/arrival/batch/unconfirmed-attempts';
import { findingSentence, wordsFor } from '../core/arrival/words';
import { bySeverity, type Severity } from '../core/findings/finding';
import { settingsOf } from '../core/plan/plan';
import type { MessageTable } from '../core/table/message-table';
import { findingCounts, type FindingCount } from '../db/finding-store';
import { intakeTotals, type IntakeTotals } from '../db/message-store';
import { answering, json } from './answer';
import { currentTable } from './columns';
import { database } from './context';
import { newestVersion } from './published';

export interface FindingGroup {
  readonly key: string;
  readonly code: string;
  readonly severity: Severity;
  readonly title: string;
  readonly why: string;
  readonly sentence: string;
  readonly cause: string;
  readonly mend: string;
  readonly eventName: string;
  readonly sourceId: string;
  /** Releases in which it was found, in the order of first sight. */
  readonly releases: readonly string[];
  readonly count: number;
  /** Messages of this event from this source in these releases: what `count` is a part of. */
  readonly of: number;
  readonly firstAt: number;
  readonly lastAt: number;
  readonly samples: readonly number[];
}

export interface Findings {
  readonly groups: readonly FindingGroup[];
  readonly messages: number;
  readonly totals: readonly IntakeTotals[];
}

const countRows = (table: MessageTable, g: { eventName: string; sourceId: string; releases: readonly string[] }): number => {
  const name = g.eventName === '' ? -1 : table.names.find(g.eventName);
  const source = table.sources.find(g.sourceId);
  const releases = new Set(g.releases.map((r) => table.releases.find(r)));
  let n = 0;
  for (let row = 0; row < table.length; row++)
    if (table.name.get(row) === name && table.source.get(row) === source && releases.has(table.release.get(row))) n++;
  return n;
};

/** One group for each code, event, field and source; releases are joined. */
const groupCounts = (counts: readonly FindingCount[]): (FindingCount & { releases: string[] })[] => {
  const groups = new Map<string, FindingCount & { releases: string[] }>();
  for (const c of counts) {
    const key = JSON.stringify([c.code, c.eventName, c.field, c.sourceId]);
    const g = groups.get(key);
    groups.set(
      key,
      g
        ? {
            ...g,
            count: g.count + c.count,
            firstAt: Math.min(g.firstAt, c.firstAt),
            lastAt: Math.max(g.lastAt, c.lastAt),
            params: c.lastAt > g.lastAt ? c.params : g.params,
            samples: [...g.samples, ...c.samples].sort((a, b) => b - a).slice(0, 5),
            releases: [...g.releases, c.release],
          }
        : { ...c, releases: [c.release] },
    );
  }
  return [...groups.values()];
};

/** All findings under the version in force, gravest first, then by how many messages. */
export const currentFindings = async (): Promise<Findings> => {
  const version = await newestVersion();
  const table = await currentTable();
  const groups: FindingGroup[] = groupCounts(await findingCounts(database(), version?.number ?? 0)).map((g) => {
    const words = wordsFor(g.code, g.params);
    return {
      key: JSON.stringify([g.code, g.eventName, g.field, g.sourceId]),
      code: g.code,
      severity: g.severity,
      title: words?.title ?? g.code,
      why: words?.why ?? '',
      sentence: findingSentence(g.code, g.eventName, g.params),
      cause: words?.cause ?? '',
      mend: words?.mend ?? '',
      eventName: g.eventName,
      sourceId: g.sourceId,
      releases: g.releases,
      count: g.count,
      of: countRows(table, g),
      firstAt: g.firstAt,
      lastAt: g.lastAt,
      samples: g.samples,
    };
  });
  const set = version ? settingsOf(version.plan).rules[unconfirmedAttempts.id] : undefined;
  if (version && !set?.off)
    for (const g of reconcile(version.plan, table, Date.now())) {
      if (!findsPremature(g)) continue;
      const words = wordsFor(unconfirmedAttempts.id, g.params)!;
      groups.push({
        ...words,
        key: JSON.stringify([unconfirmedAttempts.id, g.params.eventName, g.sourceId, g.release]),
        code: unconfirmedAttempts.id,
        severity: set?.severity ?? unconfirmedAttempts.severity,
        sentence: findingSentence(unconfirmedAttempts.id, g.params.eventName, g.params),
        eventName: g.params.eventName,
        sourceId: g.sourceId,
        releases: [g.release],
        count: g.unconfirmed,
        of: g.judged,
        firstAt: g.firstAt,
        lastAt: g.lastAt,
        samples: g.samples.map((row) => table.seq.get(row)),
      });
    }
  groups.sort((a, b) => bySeverity(a, b) || b.count - a.count);
  return { groups, messages: table.length, totals: await intakeTotals(database()) };
};

export const findings = (): Promise<Response> => answering(async () => json(await currentFindings()));
