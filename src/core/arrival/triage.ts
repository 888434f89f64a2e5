/** Where a finding is: open, acknowledged by a person until a day, or fixed because it stopped. */
import { slotsOfEvent } from '../table/cube';
import type { MessageTable } from '../table/message-table';
import type { FindingGroup } from './finding-group';

export type FindingState = 'open' | 'acknowledged' | 'fixed';

export interface Acknowledgement {
  /** Key of the finding's group. */
  readonly key: string;
  readonly reason: string;
  /** UTC epoch ms; from then on the finding is open again. */
  readonly until: number;
  /** Who fixes it; empty for the owner of the source. */
  readonly assignee: string;
  readonly author: string;
  readonly at: number;
  /** What it was when it was acknowledged: its releases, and its share of all messages; left out where that was not noted. */
  readonly releases?: readonly string[] | undefined;
  readonly share?: number | undefined;
}

export interface TriagedFinding extends FindingGroup {
  readonly state: FindingState;
  readonly acknowledgement?: Acknowledgement;
  /** How it has spread since it was acknowledged, which opens it again. */
  readonly spread?: string;
}

/** Rates that differ by less than this much are the same. */
const SPREAD_TIMES = 2;

/** How a finding has spread since it was acknowledged: to another release, or to twice the rate; `undefined` where it has not. */
export const spreadOf = (g: Pick<FindingGroup, 'releases' | 'count' | 'outOf'>, a: Acknowledgement): string | undefined => {
  const fresh = a.releases ? g.releases.filter((r) => !a.releases!.includes(r)) : [];
  if (fresh.length > 0)
    return `It has spread to ${fresh
      .slice(0, 3)
      .map((r) => r || 'messages without a release')
      .join(', ')} since it was acknowledged.`;
  const share = g.outOf > 0 ? g.count / g.outOf : 0;
  return a.share !== undefined && a.share > 0 && share >= SPREAD_TIMES * a.share
    ? `Its rate has grown from ${(a.share * 100).toFixed(1)} % to ${(share * 100).toFixed(1)} % since it was acknowledged.`
    : undefined;
};

/** Time of the newest message of the finding's events from its source; of any event where it speaks of none. */
const newestOf = (table: MessageTable, g: FindingGroup, now: number): number => {
  const source = table.sources.find(g.sourceId);
  const names = g.touches.length > 0 ? g.touches : table.names.values;
  let newest = -Infinity;
  for (const name of names) {
    const slots = [...slotsOfEvent(table, name)].find((s) => s.source === source);
    if (!slots) continue;
    if (slots.last <= now) {
      newest = Math.max(newest, slots.last);
      continue;
    }
    // Something is dated in the future: what came last is looked at message by message.
    const rows = table.rowsOf(name);
    // The newest came last, but for what came late: a few are looked at.
    for (let i = rows.length - 1, seen = 0; i >= 0 && seen < 50; i--) {
      const row = rows[i]!;
      if (table.source.get(row) !== source) continue;
      seen++;
      const at = table.time.get(row);
      if (at <= now && at > newest) newest = at;
    }
  }
  return newest;
};

/** The findings with where each is. A finding is fixed when the same events went on coming from the same source for the settling
 *  window without it; it is open again on its own when it comes back, since its last message is then a new one. A silence is fixed
 *  when messages came after it. What was never seen stays open until it comes.
 *  Shape: the open ones first, each part in the order given. Units: ms.
 */
export const triaged = (
  groups: readonly FindingGroup[],
  acknowledgements: readonly Acknowledgement[],
  table: MessageTable,
  now: number,
  settlingMs: number,
): TriagedFinding[] => {
  const byKey = new Map(acknowledgements.map((a) => [a.key, a]));
  const all = groups.map((g): TriagedFinding => {
    const acknowledgement = byKey.get(g.key);
    const fixed = g.code !== 'never-seen' && newestOf(table, g, now) - g.lastAt > settlingMs;
    const left = acknowledgement && acknowledgement.until > now ? acknowledgement : undefined;
    const spread = left && !fixed ? spreadOf(g, left) : undefined;
    const state = fixed ? 'fixed' : left && spread === undefined ? 'acknowledged' : 'open';
    return { ...g, state, ...(acknowledgement ? { acknowledgement } : {}), ...(spread === undefined ? {} : { spread }) };
  });
  return (['open', 'acknowledged', 'fixed'] as const).flatMap((s) => all.filter((g) => g.state === s));
};
