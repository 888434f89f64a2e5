import { Dictionary } from '../../table/column';
import type { MessageTable } from '../../table/message-table';
import { entries, type Plan } from '../../plan/plan';
import { spanText } from '../../questions/formula';
import { wilson } from '../../stats/wilson';
import { countDay, defineManyCheck, MOST_ROWS, type ManyFound } from '../check-many';

export interface Unconfirmed {
  readonly eventName: string;
  readonly counterpart: string;
  readonly keyProperty: string;
  readonly windowMs: number;
}

export interface UnconfirmedGroup {
  readonly params: Unconfirmed;
  readonly sourceId: string;
  readonly release: string;
  /** Client messages whose window is over, and those among them without a confirmation. */
  readonly judged: number;
  readonly unconfirmed: number;
  /** Client messages whose window is still open: too soon to judge. */
  readonly waiting: number;
  /** Rows of the table that are unconfirmed, in the order of arrival. */
  readonly rows: readonly number[];
  readonly firstAt: number;
  readonly lastAt: number;
}

export const unconfirmedAttempts = defineManyCheck({
  id: 'premature-trigger',
  on: 'many',
  title: 'Premature trigger',
  why: 'An event that claims an outcome but fires on the attempt makes every rate built on it too high.',
  severity: 'stop',
  parameters: {
    share: { title: 'Share without a confirmation from which a release is blamed', unit: '%', value: 5, least: 0, most: 100 },
    least: { title: 'Messages without one that it takes', unit: 'messages', value: 2, least: 1, most: 1000000, whole: true },
  },
  mender: () => 'source',
  expected: (p: Unconfirmed) => `a \`${p.counterpart}\` with the same \`${p.keyProperty}\` within ${shortSpan(p.windowMs)}`,
  received: () => 'none',
  message: (p: Unconfirmed) => `had no \`${p.counterpart}\` with the same \`${p.keyProperty}\` within ${shortSpan(p.windowMs)}`,
  cause: () => 'It fires on the press, before the server has answered, so failed attempts are counted too.',
  mend: (p: Unconfirmed) => `Send \`${p.eventName}\` when the answer of the server has come, and not when it refused.`,
  find({ plan, table, now }, { share, least }) {
    const joined = new Map<string, Map<string, ManyFound<Unconfirmed>>>();
    for (const g of prematureAmong(reconcile(plan, table, now), share / 100, least)) {
      const { eventName } = g.params;
      const bySource = joined.get(eventName) ?? new Map<string, ManyFound<Unconfirmed>>();
      joined.set(eventName, bySource);
      const known = bySource.get(g.sourceId);
      const perDay = new Map(known?.perDay);
      for (const row of g.rows) countDay(perDay, table.time.get(row));
      bySource.set(g.sourceId, {
        params: g.params,
        eventName,
        field: '',
        sourceId: g.sourceId,
        releases: [...(known?.releases ?? []), g.release],
        count: (known?.count ?? 0) + g.unconfirmed,
        of: (known?.of ?? 0) + g.judged,
        firstAt: Math.min(known?.firstAt ?? Infinity, g.firstAt),
        lastAt: Math.max(known?.lastAt ?? -Infinity, g.lastAt),
        perDay,
        rows: [...g.rows.slice(-MOST_ROWS), ...(known?.rows ?? [])].sort((a, b) => b - a).slice(0, MOST_ROWS),
      });
    }
    return [...joined.values()].flatMap((m) => [...m.values()]);
  },
});

const shortSpan = (ms: number): string => (ms < 60_000 ? `${ms / 1000} s` : spanText(ms));

/** Share of unconfirmed messages from which the check speaks; a lost confirmation now and then is not a premature trigger. */
const SHARE = 0.05;
const LEAST = 2;
/** What gets lost on the way to a server is less than this. */
const FAINT_SHARE = 0.005;
const FAINT_LEAST = 5;

/** When an event came under each value of a property, by the value's index. Messages without it are left out. */
export const timesByKey = (table: MessageTable, eventName: string, keyProperty: string): ReadonlyMap<number, readonly number[]> => {
  const key = table.properties.get(keyProperty)?.column;
  const times = new Map<number, number[]>();
  for (const row of table.rowsOf(eventName)) {
    const k = key?.get(row) ?? -1;
    if (k < 0) continue;
    const own = times.get(k);
    if (own) own.push(table.time.get(row));
    else times.set(k, [table.time.get(row)]);
  }
  return times;
};

/** Client messages beside their server confirmations, for each event with a counterpart, by source and release.
 *  Shape: all groups, also those without a finding; `prematureAmong` tells which. Order: as the groups first arrived.
 *  Missing values: a client message without the key counts as unconfirmed. Units: epoch ms.
 */
export const reconcile = (plan: Plan, table: MessageTable, now: number): UnconfirmedGroup[] => {
  const out: UnconfirmedGroup[] = [];
  for (const [, event] of entries(plan, 'event')) {
    const c = event.counterpart;
    if (!c) continue;
    const client = table.names.find(event.name);
    if (client < 0) continue;
    const key = table.properties.get(c.keyProperty);
    const confirmedAt = timesByKey(table, c.eventName, c.keyProperty);
    const groups = new Dictionary<number>();
    const found: { judged: number; unconfirmed: number; waiting: number; rows: number[]; firstAt: number; lastAt: number; row: number }[] =
      [];
    for (let row = 0; row < table.length; row++) {
      if (table.name.get(row) !== client) continue;
      const g = groups.intern(table.source.get(row) * 1_000_000 + table.release.get(row));
      const group = (found[g] ??= { judged: 0, unconfirmed: 0, waiting: 0, rows: [], firstAt: Infinity, lastAt: -Infinity, row });
      const at = table.time.get(row);
      const k = key?.column.get(row) ?? -1;
      if ((confirmedAt.get(k) ?? []).some((t) => Math.abs(t - at) <= c.windowMs)) group.judged++;
      else if (at + c.windowMs > now) group.waiting++;
      else {
        group.judged++;
        group.unconfirmed++;
        group.rows.push(row);
        group.firstAt = Math.min(group.firstAt, at);
        group.lastAt = Math.max(group.lastAt, at);
      }
    }
    const params = { eventName: event.name, counterpart: c.eventName, keyProperty: c.keyProperty, windowMs: c.windowMs };
    for (const { row, ...g } of found)
      out.push({
        params,
        sourceId: table.sources.values[table.source.get(row)]!,
        release: table.releases.values[table.release.get(row)]!,
        ...g,
      });
  }
  return out;
};

/** The groups that are a premature trigger, rather than a lost confirmation now and then: a release with a share of its own, or the
 *  releases of a source that lack any, taken together, where even the low end of the interval is more than what gets lost.
 *  Shape: a part of the groups, in their order. Source: Wilson 1927 for the interval; the shares are common practice.
 */
export const prematureAmong = (groups: readonly UnconfirmedGroup[], share = SHARE, least = LEAST): UnconfirmedGroup[] => {
  const plain = (g: UnconfirmedGroup): boolean => g.unconfirmed >= least && g.unconfirmed > g.judged * share;
  const faint = (g: UnconfirmedGroup): boolean => {
    if (g.unconfirmed === 0) return false;
    const pooled = groups.filter((x) => x.params.eventName === g.params.eventName && x.sourceId === g.sourceId && x.unconfirmed > 0);
    const [hits, trials] = [pooled.reduce((n, x) => n + x.unconfirmed, 0), pooled.reduce((n, x) => n + x.judged, 0)];
    return hits >= FAINT_LEAST && wilson(hits, trials)!.low >= FAINT_SHARE;
  };
  return groups.filter((g) => plain(g) || faint(g));
};
