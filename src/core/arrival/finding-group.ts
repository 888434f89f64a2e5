/** Findings on messages, grouped by cause: what a person reads, instead of one line a message. */
import { bySeverity, type Severity } from '../findings/severity';
import { settingsOf } from '../plan/plan';
import { cubeOf } from '../table/cube';
import type { MessageTable } from '../table/message-table';
import { manyChecks } from './many/index';
import { valuesOf, type Fixer } from './check';
import { MAX_ROWS, trendOf, type ManyCheck, type ManyContext } from './check-many';
import { fieldOf, findingCounts, type FindingCount } from './finding-counts';
import { saidBy, type ManySaid, type Said } from './message-finding';
import { findingSentence, missingBy, variantOf, wordsFor } from './words';

/** Where, when and how often something was found. */
interface Group {
  readonly key: string;
  readonly code: string;
  readonly severity: Severity;
  readonly eventName: string;
  /** Names of all events whose figures it distorts: those that carried it, and a planned name that lost messages to a twin. */
  readonly touches: readonly string[];
  readonly sourceId: string;
  /** Releases in which it was found, in the order of first sight. */
  readonly releases: readonly string[];
  readonly count: number;
  /** Messages of these events from this source in these releases: what `count` is a part of. */
  readonly outOf: number;
  readonly firstAt: number;
  readonly lastAt: number;
  readonly samples: readonly number[];
  /** Messages of each of the last 28 days in UTC, today last; `undefined` where the finding counts no messages. */
  readonly trend?: readonly number[] | undefined;
}

/** What a check over many found, without its words. */
export interface FoundGroup extends Group {
  readonly said: ManySaid;
}

/** A finding as it is read. */
export interface FindingGroup extends Group {
  readonly title: string;
  readonly why: string;
  readonly sentence: string;
  readonly cause: string;
  readonly fix: string;
  readonly fixer: Fixer;
  readonly expected: string;
  readonly received: string;
  /** Messages that did not come, by what those say on which it was found. */
  readonly missing?: number | undefined;
  /** What probably took the place of what a definition took. */
  readonly successor?: { readonly text: string; readonly place: string } | undefined;
}

/** A finding on an identifier or a user property has one cause, whichever event carried it. */
const isOnPerson = (c: { field: string }): boolean => c.field.startsWith('ids.') || c.field.startsWith('user_properties.');

const countRows = (table: MessageTable, g: Pick<FindingGroup, 'eventName' | 'touches' | 'sourceId' | 'releases'>): number => {
  const names = new Set(g.touches.map((n) => table.names.find(n)));
  const source = table.sources.find(g.sourceId);
  const releases = new Set(g.releases.map((r) => table.releases.find(r)));
  let n = 0;
  for (const c of cubeOf(table))
    if ((g.eventName === '' || names.has(c.name)) && c.source === source && releases.has(c.release)) n += c.messages;
  return n;
};

/** One group for each code, event, field and source; releases are joined. */
const touchedBy = (c: FindingCount): string[] => {
  const twin = c.said.code === 'unknown-event' ? c.said.params : undefined;
  return twin?.likeness === 'same but for case' && twin.nearest !== undefined ? [c.eventName, twin.nearest] : [c.eventName];
};

const together = (a: ReadonlyMap<number, number>, b: ReadonlyMap<number, number>): Map<number, number> => {
  const sum = new Map(a);
  for (const [day, n] of b) sum.set(day, (sum.get(day) ?? 0) + n);
  return sum;
};

type Joined = FindingCount & { releases: string[]; touches: string[] };

/** The key of a group: what is the same for all of one cause. A variant is in it only where there is one. */
const keyOf = (c: Pick<FindingCount, 'code' | 'eventName' | 'field' | 'sourceId' | 'variant'>): string =>
  JSON.stringify([c.code, isOnPerson(c) ? '' : c.eventName, c.field, c.sourceId, ...(c.variant === '' ? [] : [c.variant])]);

const groupCounts = (counts: readonly FindingCount[]): Joined[] => {
  const groups = new Map<string, Joined>();
  for (const counted of counts) {
    const c = isOnPerson(counted) ? { ...counted, eventName: '' } : counted;
    const key = keyOf(c);
    const g = groups.get(key);
    groups.set(
      key,
      g
        ? {
            ...g,
            count: g.count + c.count,
            firstAt: Math.min(g.firstAt, c.firstAt),
            lastAt: Math.max(g.lastAt, c.lastAt),
            said: c.lastAt > g.lastAt ? c.said : g.said,
            samples: [...g.samples, ...c.samples].sort((a, b) => b - a).slice(0, 5),
            perDay: together(g.perDay, c.perDay),
            releases: [...new Set([...g.releases, c.release])],
            touches: [...new Set([...g.touches, ...touchedBy(counted)])],
          }
        : { ...c, releases: [c.release], touches: touchedBy(counted) },
    );
  }
  return [...groups.values()];
};

/** All of a group say the same, where it is told apart by that. */
const missingOf = ({ said, count }: Pick<Joined, 'said' | 'count'>): { readonly missing?: number } => {
  const each = missingBy(said);
  return each === undefined ? {} : { missing: each * count };
};

const describe = (said: Said, eventName: string) => {
  const words = wordsFor(said);
  return {
    title: words?.title ?? said.code,
    why: words?.why ?? '',
    sentence: findingSentence(said, eventName),
    cause: words?.cause ?? '',
    fix: words?.fix ?? '',
    fixer: words?.fixer ?? ('source' as const),
    expected: words?.expected ?? '',
    received: words?.received ?? '',
  };
};

/** What the checks over many find, one group for each cause; what a check finds in several releases of a source is one cause.
 *  Shape: steps, one at least for each check, so that whoever runs it can do other things in between; the groups are what it returns. `only`: of this
 *  check alone; no group is of two.
 */
export function* manyGroups(c: ManyContext, only?: string): Generator<void, FoundGroup[]> {
  const { rules } = settingsOf(c.plan);
  const joined = new Map<string, FoundGroup>();
  for (const check of manyChecks as readonly ManyCheck<string, unknown>[]) {
    if (only !== undefined && check.id !== only) continue;
    const set = rules[check.id];
    if (set?.off) continue;
    yield;
    for (const f of check.find(c, valuesOf(check.parameters, set))) {
      if (!f) {
        yield;
        continue;
      }
      const key = JSON.stringify([check.id, f.eventName, f.field, f.sourceId]);
      const known = joined.get(key);
      joined.set(key, {
        key,
        code: check.id,
        // What is said is what the newest says.
        said: known && known.lastAt > f.lastAt ? known.said : ({ code: check.id, params: f.params } as ManySaid),
        severity: set?.severity ?? f.severity ?? check.severity,
        eventName: f.eventName,
        touches: f.eventName === '' ? [] : [f.eventName],
        sourceId: f.sourceId,
        releases: [...new Set([...(known?.releases ?? []), ...f.releases])],
        count: (known?.count ?? 0) + f.count,
        outOf: (known?.outOf ?? 0) + f.outOf,
        firstAt: Math.min(known?.firstAt ?? Infinity, f.firstAt),
        lastAt: Math.max(known?.lastAt ?? -Infinity, f.lastAt),
        trend: f.perDay ? added(known?.trend, trendOf(f.perDay, c.now)) : known?.trend,
        samples: [...f.rows.map((row) => c.people.table.seq.get(row)), ...(known?.samples ?? [])].sort((x, y) => y - x).slice(0, MAX_ROWS),
      });
    }
  }
  return [...joined.values()];
}

const added = (a: readonly number[] | undefined, b: readonly number[]): readonly number[] => (a ? b.map((n, i) => n + a[i]!) : b);

/** Sequence numbers of the newest messages of a finding that the table keeps beside its rows, newest first. `key` is that of its group. */
export const messagesOfFinding = (table: MessageTable, key: string): number[] => {
  const [code, eventName, field, sourceId, variant] = JSON.parse(key) as readonly string[];
  const [name, source] = [table.names.find(eventName ?? ''), table.sources.find(sourceId ?? '')];
  const found: number[] = [];
  for (const row of table.judgedRows())
    if (
      table.source.get(row) === source &&
      (eventName === '' || table.name.get(row) === name) &&
      table.verdicts
        .get(row)!
        .some((v) => v.code === code && fieldOf(v) === field && (variant === undefined || variantOf(saidBy(v)) === variant))
    )
      found.push(row);
  return found
    .sort((a, b) => table.time.get(b) - table.time.get(a) || b - a)
    .slice(0, MAX_ROWS)
    .map((row) => table.seq.get(row));
};

/** All groups, gravest first, then by how many messages.
 *  Shape: the findings on single messages joined over releases, and those of the checks over many. `of` counts the messages of
 *  the same event, source and releases.
 */
export const groupFindings = (table: MessageTable, many: readonly FoundGroup[], now: number): FindingGroup[] => {
  const groups: FindingGroup[] = groupCounts(findingCounts(table)).map((g) => ({
    ...describe(g.said, g.eventName),
    key: keyOf(g),
    code: g.code,
    severity: g.severity,
    eventName: g.eventName,
    touches: g.touches,
    sourceId: g.sourceId,
    releases: g.releases,
    count: g.count,
    ...missingOf(g),
    outOf: countRows(table, g),
    firstAt: g.firstAt,
    lastAt: g.lastAt,
    samples: g.samples,
    trend: trendOf(g.perDay, now),
  }));
  const over = many.map(({ said, ...g }): FindingGroup => ({
    ...describe(said, g.eventName),
    ...g,
    ...(said.code === 'definition-dropped' && (said.params.text !== '' || said.params.place !== '')
      ? { successor: { text: said.params.text, place: said.params.place } }
      : {}),
  }));
  return [...groups, ...over].sort((a, b) => bySeverity(a, b) || b.count - a.count);
};
