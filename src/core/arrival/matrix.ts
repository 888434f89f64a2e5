/** Event × source × day: what was planned, and what came. */
import { entries, settingsOf, type Plan } from '../plan/plan';
import { periodsBetween } from '../questions/calendar';
import { DAY_MS } from '../questions/formula';
import type { MessageTable } from '../table/message-table';

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

const HOUR_MS = 3_600_000;
/** Without a message for so many whole days, after it came on most days before, an event is silent. */
const SILENT_DAYS = 2;
const REGULAR = 0.7;

/** Rows in the order of the plan: each planned pair of event and source, then what came without being planned.
 *  Shape: `days` days up to now, in the workspace's zone. `watchedSince` says since when the plan in force is watched, UTC epoch ms.
 */
export const arrivalMatrix = (plan: Plan, table: MessageTable, now: number, watchedSince: number, days = 28): ArrivalMatrix => {
  const { timeZone, weekStartsOn, tooEarlyHours, escalationHours } = settingsOf(plan);
  const periods = periodsBetween('day', now - (days - 1) * DAY_MS, now, timeZone, weekStartsOn);
  const source = table.source.rawFor(table.length);
  const time = table.time.raw;
  const seen = new Map<string, Map<string, Came>>();
  for (const name of table.names.values) {
    const of = new Map<string, Came>();
    for (const row of table.rowsOf(name)) {
      const s = table.sources.values[source[row]!]!;
      let own = of.get(s);
      if (!own) of.set(s, (own = { counts: new Array<number>(periods.count).fill(0), total: 0, lastAt: -Infinity }));
      const at = time[row]!;
      own.total++;
      if (at > own.lastAt) own.lastAt = at;
      if (at >= periods.starts[0]! && at < periods.starts[periods.count]!) own.counts[periods.find(at)]!++;
    }
    seen.set(name, of);
  }
  const watched = now - watchedSince;
  const missing: MatrixState = watched < tooEarlyHours * HOUR_MS ? 'too early' : watched < escalationHours * HOUR_MS ? 'waiting' : 'never';
  const stateOf = (counts: readonly number[]): MatrixState => {
    const whole = counts.slice(0, -1);
    const before = whole.slice(0, -SILENT_DAYS);
    const regular = before.filter((n) => n > 0).length >= REGULAR * before.length;
    return regular && [...whole.slice(-SILENT_DAYS), counts.at(-1)!].every((n) => n === 0) ? 'silent' : 'seen';
  };
  const empty = new Array<number>(periods.count).fill(0);
  const rows: MatrixRow[] = [];
  const planned = entries(plan, 'event')
    .map(([, e]) => e)
    .filter((e) => e.name !== '' && !e.retired)
    .sort((a, b) => a.order - b.order || (a.name < b.name ? -1 : 1));
  for (const e of planned) {
    const of = seen.get(e.name);
    for (const s of e.sources) {
      const own = of?.get(s.sourceId);
      // What is left over was not planned.
      of?.delete(s.sourceId);
      rows.push({
        eventName: e.name,
        sourceId: s.sourceId,
        state: own ? stateOf(own.counts) : s.build === 'proposed' || s.build === 'agreed' ? 'not built' : missing,
        counts: own?.counts ?? empty,
        total: own?.total ?? 0,
        lastAt: own?.lastAt,
      });
    }
  }
  for (const [eventName, of] of seen) for (const [sourceId, own] of of) rows.push({ eventName, sourceId, state: 'not planned', ...own });
  return { days: periods.starts.slice(0, periods.count), rows };
};
