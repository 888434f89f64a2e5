/** How a wait for what was asked and has not come is: one definition for the finding, the matrix, the list of follow-ups and the gate. */
import { settingsOf, type Id, type Plan } from '../plan/plan';
import type { Watch } from '../plan/watch';
import { following } from '../table/following';
import { HOUR_MS } from '../time';
import type { MessageTable } from '../table/message-table';

export type WaitState = 'too early' | 'waiting' | 'fault';

export interface Wait {
  readonly state: WaitState;
  /** UTC epoch ms: when it began, and when it becomes a fault. */
  readonly since: number;
  readonly due: number;
  /** How long it has lasted, ms. */
  readonly lastedMs: number;
}

/** By the index of a source: when its first message was received. */
const firstReceived = following(
  () => new Map<number, number>(),
  (state, { source, received }, from, to) => {
    for (let row = from; row < to; row++) {
      const at = received.get(row);
      const known = state.get(source.get(row));
      if (known === undefined || at < known) state.set(source.get(row), at);
    }
  },
);

/** A wait that began at a moment, by the workspace's hours. */
export const waitSince = (plan: Plan, since: number, now: number): Wait => {
  const { tooEarlyHours, escalationHours } = settingsOf(plan);
  const lastedMs = now - since;
  const state = lastedMs < tooEarlyHours * HOUR_MS ? 'too early' : lastedMs < escalationHours * HOUR_MS ? 'waiting' : 'fault';
  return { state, since, due: since + escalationHours * HOUR_MS, lastedMs };
};

interface Waited {
  readonly plan: Plan;
  readonly table: MessageTable;
  readonly watch: Watch;
  readonly now: number;
}

const begun = ({ table, now }: Waited, asked: number, sourceId: Id): number =>
  // Before its source sends anything at all there is nothing to wait for on it.
  Math.min(now, Math.max(asked, firstReceived(table).get(table.sources.find(sourceId)) ?? -Infinity));

/** The wait for an event from a source; `undefined` where it is not asked for. It begins when it was first asked for, or when the source first
 *  sent anything, where that is later.
 */
export const waitFor = (c: Waited, eventId: Id, sourceId: Id): Wait | undefined => {
  const asked = c.watch.pair(eventId, sourceId);
  return asked === undefined ? undefined : waitSince(c.plan, begun(c, asked, sourceId), c.now);
};

/** The wait for the identifiers of a source. */
export const waitForSource = (c: Waited, sourceId: Id): Wait | undefined => {
  const asked = c.watch.source(sourceId);
  return asked === undefined ? undefined : waitSince(c.plan, begun(c, asked, sourceId), c.now);
};
