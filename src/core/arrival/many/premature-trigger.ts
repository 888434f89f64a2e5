import { rowsBefore, Dictionary } from '../../table/column';
import { following } from '../../table/following';
import type { MessageTable } from '../../table/message-table';
import { entries, settingsOf, type Plan } from '../../plan/plan';
import { spanText } from '../../questions/formula';
import { wilson } from '../../stats/wilson';
import { valuesOf } from '../check';
import { countDay, defineManyCheck, MAX_ROWS, type ManyFound } from '../check-many';
import { refText, type PropertyRef } from '../../plan/property-path';

export interface Unconfirmed {
  readonly eventName: string;
  readonly counterpart: string;
  readonly keyProperty: PropertyRef;
  readonly windowMs: number;
}

export interface UnconfirmedGroup {
  readonly params: Unconfirmed;
  readonly sourceId: string;
  readonly release: string;
  /** Client messages whose window is over, and those among them without a confirmation. */
  readonly judged: number;
  readonly unconfirmed: number;
  /** The unconfirmed ones as moments: what one device sends within a second is one attempt, not several. */
  readonly attempts: number;
  /** Client messages whose window is still open: too soon to judge. */
  readonly waiting: number;
  /** Rows of the table that are unconfirmed, in the order of arrival. */
  readonly rows: readonly number[];
  readonly firstAt: number;
  readonly lastAt: number;
}

export const prematureTrigger = defineManyCheck({
  id: 'premature-trigger',
  on: 'many',
  title: 'Premature trigger',
  why: 'An event that claims an outcome but fires on the attempt makes every rate built on it too high.',
  example: {
    wrong: '`Reservation Requested` without a `Reservation Confirmed` of the same reservation within the hour',
    right: 'one confirmation for each request',
  },
  method:
    'Messages whose time for a confirmation is over, and that have none with the same key within it, by their own time or by receipt. By release, told where at least so many attempts lack one and the lower bound of their share is above the limit; with all releases of a source together, where that bound is above what is lost on the way. Source: Wilson interval for a share.',
  severity: 'stop',
  parameters: {
    share: { title: 'Minimum share without a confirmation', unit: '%', value: 5, min: 0, max: 100 },
    min: { title: 'Minimum attempts without a confirmation', unit: 'attempts', value: 3, min: 1, max: 1000000, whole: true },
    lost: { title: 'Share of confirmations that gets lost on the way, all releases together', unit: '%', value: 0.5, min: 0, max: 100 },
  },
  fixer: () => 'source',
  expected: (p: Unconfirmed) => `a \`${p.counterpart}\` with the same \`${refText(p.keyProperty)}\` within ${shortSpan(p.windowMs)}`,
  received: () => 'none',
  message: (p: Unconfirmed) => `had no \`${p.counterpart}\` with the same \`${refText(p.keyProperty)}\` within ${shortSpan(p.windowMs)}`,
  cause: () => 'It fires on the press, before the server has answered, so failed attempts are counted too.',
  fix: (p: Unconfirmed) => `Send \`${p.eventName}\` when the answer of the server has come, and not when it refused.`,
  find({ plan, people: { table }, now }) {
    const joined = new Map<string, Map<string, ManyFound<Unconfirmed>>>();
    for (const g of prematureIn(plan, reconcile(plan, table, now))) {
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
        outOf: (known?.outOf ?? 0) + g.judged,
        firstAt: Math.min(known?.firstAt ?? Infinity, g.firstAt),
        lastAt: Math.max(known?.lastAt ?? -Infinity, g.lastAt),
        perDay,
        rows: [...g.rows.slice(-MAX_ROWS), ...(known?.rows ?? [])].sort((a, b) => b - a).slice(0, MAX_ROWS),
      });
    }
    return [...joined.values()].flatMap((m) => [...m.values()]);
  },
});

const shortSpan = (ms: number): string => (ms < 60_000 ? `${ms / 1000} s` : spanText(ms));

/** Attempts that it takes where no release differs. */
const FAINT_LEAST = 5;
const ATTEMPT_MS = 1000;
/** More than the releases that any table has. */
const RELEASES = 2 ** 26;

/** When an event says it happened, and when it was received. */
export interface Moment {
  readonly at: number;
  readonly received: number;
}

/** Whether two messages lie within a window, by what they say or by when they were received: one of the two clocks may be wrong. */
export const isWithinWindow = (a: Moment, b: Moment, windowMs: number): boolean =>
  Math.abs(a.at - b.at) <= windowMs || Math.abs(a.received - b.received) <= windowMs;

const timesOf = following(
  () => new Map<number, Moment[]>(),
  (times, table, from, to, key) => {
    const { eventName, keyProperty } = JSON.parse(key) as { eventName: string; keyProperty: PropertyRef };
    const column = table.properties.get(keyProperty)?.column;
    const rows = rowsBefore(table.rowsOf(eventName), to);
    for (let i = rowsBefore(rows, from).length; i < rows.length; i++) {
      const row = rows[i]!;
      const k = column?.get(row) ?? -1;
      if (k < 0) continue;
      const own = times.get(k);
      const moment = { at: table.time.get(row), received: table.received.get(row) };
      if (own) own.push(moment);
      else times.set(k, [moment]);
    }
  },
);

/** When an event came under each value of a property, by the value's index. Messages without it are left out. */
export const timesByKey = (table: MessageTable, eventName: string, keyProperty: PropertyRef): ReadonlyMap<number, readonly Moment[]> =>
  timesOf(table, JSON.stringify({ eventName, keyProperty }));

interface Group {
  readonly row: number;
  /** Messages that are confirmed, for good. */
  confirmed: number;
}

interface Pairs {
  /** By source and release. */
  readonly groups: Dictionary<number>;
  readonly found: Group[];
  /** Rows without a confirmation so far, in order of arrival. */
  open: number[];
}

/** What is confirmed stays confirmed; the others are looked at again. */
const pairsOf = following(
  (): Pairs => ({ groups: new Dictionary(), found: [], open: [] }),
  (state, table, from, to, key) => {
    const c = JSON.parse(key) as UnconfirmedGroup['params'];
    const confirmedAt = timesByKey(table, c.counterpart, c.keyProperty);
    const column = table.properties.get(c.keyProperty)?.column;
    const isConfirmed = (row: number): boolean => {
      const times = confirmedAt.get(column?.get(row) ?? -1);
      if (!times) return false;
      const moment = { at: table.time.get(row), received: table.received.get(row) };
      return times.some((t) => isWithinWindow(t, moment, c.windowMs));
    };
    const rows = rowsBefore(table.rowsOf(c.eventName), to);
    const fresh = rows.subarray(rowsBefore(rows, from).length);
    const before = state.open;
    state.open = [];
    const look = (row: number): void => {
      const g = state.groups.intern(table.source.get(row) * RELEASES + table.release.get(row));
      const group = (state.found[g] ??= { row, confirmed: 0 });
      if (isConfirmed(row)) group.confirmed++;
      else state.open.push(row);
    };
    for (const row of before) look(row);
    for (const row of fresh) look(row);
  },
);

/** Client messages beside their server confirmations, for each event with a counterpart, by source and release.
 *  Shape: all groups, also those without a finding; `prematureAmong` tells which. Order: as the groups first arrived.
 *  Missing values: a client message without the key counts as unconfirmed. Units: epoch ms. `names`: of these events alone.
 */
export const reconcile = (plan: Plan, table: MessageTable, now: number, names?: ReadonlySet<string>): UnconfirmedGroup[] => {
  const out: UnconfirmedGroup[] = [];
  for (const [, event] of entries(plan, 'event')) {
    const c = event.counterpart;
    if (!c || names?.has(event.name) === false || table.rowsOf(event.name).length === 0) continue;
    const params = { eventName: event.name, counterpart: c.eventName, keyProperty: c.keyProperty, windowMs: c.windowMs };
    const { groups, found, open } = pairsOf(table, JSON.stringify(params));
    const own = found.map((g) => ({
      row: g.row,
      judged: g.confirmed,
      unconfirmed: 0,
      attempts: 0,
      waiting: 0,
      rows: [] as number[],
      firstAt: Infinity,
      lastAt: -Infinity,
    }));
    /** By who sent it: when the last attempt of theirs was. */
    const lastAttempt = new Map<number, number>();
    for (const row of open) {
      const group = own[groups.find(table.source.get(row) * RELEASES + table.release.get(row))]!;
      const at = table.time.get(row);
      if (at + c.windowMs > now) {
        group.waiting++;
        continue;
      }
      group.judged++;
      group.unconfirmed++;
      const who = senderOf(table, row);
      if (who < 0 || Math.abs(at - (lastAttempt.get(who) ?? -Infinity)) > ATTEMPT_MS) group.attempts++;
      if (who >= 0) lastAttempt.set(who, at);
      group.rows.push(row);
      group.firstAt = Math.min(group.firstAt, at);
      group.lastAt = Math.max(group.lastAt, at);
    }
    for (const { row, ...g } of own)
      out.push({
        params,
        sourceId: table.sources.values[table.source.get(row)]!,
        release: table.releases.values[table.release.get(row)]!,
        ...g,
      });
  }
  return out;
};

/** The first identifier of a message; −1 for none. */
const senderOf = (table: MessageTable, row: number): number => {
  for (const column of table.ids.values()) if (column.get(row) >= 0) return column.get(row);
  return -1;
};

/** The groups that are a premature trigger, rather than a lost confirmation now and then: a release whose share without one is surely
 *  above what the workspace allows, or the releases of a source that lack any, taken together, where even the low end of the interval is
 *  more than what gets lost. The numbers are those that the workspace set.
 *  Shape: a part of the groups, in their order. Source: Wilson 1927 for the interval; the shares are common practice.
 */
export const prematureIn = (plan: Plan, groups: readonly UnconfirmedGroup[]): UnconfirmedGroup[] => {
  const set = settingsOf(plan).rules[prematureTrigger.id];
  if (set?.off) return [];
  const { share, min, lost } = valuesOf(prematureTrigger.parameters, set);
  const low = (hits: number, trials: number): number => wilson(hits, trials)?.low ?? 0;
  const plain = (g: UnconfirmedGroup): boolean => g.attempts >= min && low(g.attempts, g.judged - g.unconfirmed + g.attempts) > share / 100;
  const faint = (g: UnconfirmedGroup): boolean => {
    if (g.unconfirmed === 0) return false;
    const own = groups.filter((x) => x.params.eventName === g.params.eventName && x.sourceId === g.sourceId && x.unconfirmed > 0);
    const hits = own.reduce((n, x) => n + x.attempts, 0);
    const trials = own.reduce((n, x) => n + x.judged - x.unconfirmed + x.attempts, 0);
    return hits >= FAINT_LEAST && low(hits, trials) > lost / 100;
  };
  return groups.filter((g) => plain(g) || faint(g));
};
