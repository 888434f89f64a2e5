/** What the clients say happened beside what the server confirms, pair by pair. */
import { entries, type Plan } from '../plan/plan';
import { wilson, type Interval } from '../stats/wilson';
import type { MessageTable } from '../table/message-table';
import { isWithinWindow, reconcile, timesByKey } from './many/premature-trigger';
import type { PropertyRef } from '../plan/property-path';

export interface Share {
  readonly n: number;
  readonly of: number;
  /** `undefined` when there is nothing to judge. */
  readonly interval: Interval | undefined;
}

export interface ReconciledSource {
  readonly sourceId: string;
  readonly release: string;
  /** Messages of the client that no confirmation is beside. */
  readonly unconfirmed: Share;
  readonly waiting: number;
}

export interface ReconciledPair {
  readonly clientName: string;
  readonly serverName: string;
  readonly keyProperty: PropertyRef;
  readonly windowMs: number;
  readonly clientMessages: number;
  readonly serverMessages: number;
  /** Client messages without a confirmation within the window: rejected, or sent too early. */
  readonly extra: Share;
  /** Confirmations without any message of a client within the window: what never reached us, for one reason or another. */
  readonly lost: Share;
  readonly waiting: number;
  readonly bySource: readonly ReconciledSource[];
  /** Sequence numbers, newest first. */
  readonly extraSeqs: readonly number[];
  readonly lostSeqs: readonly number[];
}

const MAX_LISTED = 200;

const share = (n: number, of: number): Share => ({ n, of, interval: wilson(n, of) });

/** Confirmations that no message of a client is beside within the window, in the order of arrival.
 *  Shape: `judged` counts those whose window is over; rows of the table.
 */
const lostOf = (
  table: MessageTable,
  clientName: string,
  serverName: string,
  keyProperty: PropertyRef,
  windowMs: number,
  now: number,
): { readonly judged: number; readonly rows: readonly number[] } => {
  const key = table.properties.get(keyProperty)?.column;
  const sentAt = timesByKey(table, clientName, keyProperty);
  const rows: number[] = [];
  let judged = 0;
  for (const row of table.rowsOf(serverName)) {
    const at = table.time.get(row);
    const moment = { at, received: table.received.get(row) };
    const found = (sentAt.get(key?.get(row) ?? -1) ?? []).some((t) => isWithinWindow(t, moment, windowMs));
    if (!found && at + windowMs > now) continue;
    judged++;
    if (!found) rows.push(row);
  }
  return { judged, rows };
};

/** Every event with a counterpart, matched by the key within the window.
 *  Shape: in the order of the plan; shares with their Wilson intervals of 95 %. What is expected: a client may lose messages, so it
 *  sends no more than the server confirms. Source: Wilson 1927 for the intervals.
 */
export const reconciliation = (plan: Plan, table: MessageTable, now: number): ReconciledPair[] => {
  const groups = reconcile(plan, table, now);
  const seqs = (rows: readonly number[]): number[] =>
    rows
      .map((row) => table.seq.get(row))
      .sort((a, b) => b - a)
      .slice(0, MAX_LISTED);
  return entries(plan, 'event')
    .filter(([, e]) => e.counterpart && !e.retired)
    .sort(([, a], [, b]) => a.order - b.order)
    .map(([, event]) => {
      const { eventName: serverName, keyProperty, windowMs } = event.counterpart!;
      const own = groups.filter((g) => g.params.eventName === event.name);
      const sum = (f: (g: (typeof own)[number]) => number): number => own.reduce((n, g) => n + f(g), 0);
      const lost = lostOf(table, event.name, serverName, keyProperty, windowMs, now);
      return {
        clientName: event.name,
        serverName,
        keyProperty,
        windowMs,
        clientMessages: table.rowsOf(event.name).length,
        serverMessages: table.rowsOf(serverName).length,
        extra: share(
          sum((g) => g.unconfirmed),
          sum((g) => g.judged),
        ),
        lost: share(lost.rows.length, lost.judged),
        waiting: sum((g) => g.waiting),
        bySource: own.map((g) => ({
          sourceId: g.sourceId,
          release: g.release,
          unconfirmed: share(g.unconfirmed, g.judged),
          waiting: g.waiting,
        })),
        extraSeqs: seqs(own.flatMap((g) => g.rows)),
        lostSeqs: seqs(lost.rows),
      };
    });
};
