/** Event × source × day: what was planned, and what came. */
import { entries, settingsOf, type Plan } from '../plan/plan';
import type { Watch } from '../plan/watch';
import { periodsBetween } from '../questions/calendar';
import { addByPeriod, slotsOfEvent } from '../table/cube';
import type { MessageTable } from '../table/message-table';
import { volumesOf } from './volume-series';
import { DAY_MS } from '../time';
import { waitFor } from './waiting';

export type MatrixState = 'seen' | 'silent' | 'too early' | 'waiting' | 'never' | 'not planned' | 'not built';

export interface MatrixRow {
  readonly eventName: string;
  readonly sourceId: string;
  readonly state: MatrixState;
  /** Messages of each day. */
  readonly counts: readonly number[];
  readonly total: number;
  /** UTC epoch ms; `undefined` where none ever came. */
  readonly lastAt: number | undefined;
  /** When its wait began and when it becomes a fault, UTC epoch ms; only of what is waited for. */
  readonly wait?: { readonly since: number; readonly due: number };
}

/** What came of an event from a source. */
interface Came {
  readonly counts: number[];
  total: number;
  lastAt: number;
}

export interface ArrivalMatrix {
  /** Begin of each day, UTC epoch ms; the last day is not over. */
  readonly days: readonly number[];
  readonly rows: readonly MatrixRow[];
}

/** Rows in the order of the plan: each planned pair of event and source, then what came without being planned.
 *  Shape: `days` days up to now, in the workspace's zone. Silent is what the finding of silence calls so, and waiting what its finding does.
 */
export const arrivalMatrix = (plan: Plan, table: MessageTable, now: number, watch: Watch, days = 28): ArrivalMatrix => {
  const { timeZone, weekStartsOn } = settingsOf(plan);
  const periods = periodsBetween('day', now - (days - 1) * DAY_MS, now, timeZone, weekStartsOn);
  const seen = new Map<string, Map<string, Came>>();
  const find = (at: number): number => (at < periods.starts[0]! || at >= periods.starts[periods.count]! ? -1 : periods.find(at));
  table.names.values.forEach((name) => {
    const of = new Map<string, Came>();
    for (const slots of slotsOfEvent(table.base, name)) {
      const counts = new Float64Array(periods.count);
      addByPeriod(slots, find, counts);
      let total = 0;
      for (const x of slots.counts.values()) total += x;
      of.set(table.sources.values[slots.source]!, { counts: [...counts], total, lastAt: slots.last });
    }
    seen.set(name, of);
  });
  const isSilent = (eventName: string, sourceId: string, today: number): boolean => {
    // What came today is silent no more.
    if (today > 0) return false;
    for (const s of volumesOf(plan, table, now, eventName))
      if (table.sources.values[s.source] === sourceId) return s.volume.silent.some((x) => x.ongoing);
    return false;
  };
  const empty = new Array<number>(periods.count).fill(0);
  const rows: MatrixRow[] = [];
  const planned = entries(plan, 'event')
    .filter(([, e]) => e.name !== '' && !e.retired)
    .sort(([, a], [, b]) => a.order - b.order || (a.name < b.name ? -1 : 1));
  for (const [id, e] of planned) {
    const of = seen.get(e.name);
    for (const s of e.sources) {
      const own = of?.get(s.sourceId);
      // What is left over was not planned.
      of?.delete(s.sourceId);
      const wait = waitFor({ plan, table, watch, now }, id, s.sourceId);
      rows.push({
        eventName: e.name,
        sourceId: s.sourceId,
        state: own
          ? isSilent(e.name, s.sourceId, own.counts.at(-1)!)
            ? 'silent'
            : 'seen'
          : s.build === 'proposed' || s.build === 'agreed' || !wait
            ? 'not built'
            : wait.state === 'fault'
              ? 'never'
              : wait.state,
        ...(own || !wait ? {} : { wait: { since: wait.since, due: wait.due } }),
        counts: own?.counts ?? empty,
        total: own?.total ?? 0,
        lastAt: own?.lastAt,
      });
    }
  }
  for (const [eventName, of] of seen) for (const [sourceId, own] of of) rows.push({ eventName, sourceId, state: 'not planned', ...own });
  return { days: periods.starts.slice(0, periods.count), rows };
};
