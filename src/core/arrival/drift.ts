/** What changed in what arrives since a moment: names, properties, types and values that are new or vanished. */
import { masked } from './personal-data';
import type { MessageTable } from '../table/message-table';
import { seenSince, sumsOf, typeOfValue, type Sight, type Size } from './drift-seen';
import { HOUR_MS } from '../time';
import type { PropertyRef } from '../plan/property-path';

export interface DriftChange {
  readonly what: 'event' | 'property' | 'type' | 'value';
  readonly change: 'new' | 'vanished';
  readonly eventName: string;
  readonly sourceId: string;
  /** Empty for an event. */
  readonly property: PropertyRef;
  /** The type or the value; empty for events and properties. */
  readonly value: string;
  /** Messages on the side where it is. */
  readonly messages: number;
  /** First or last sight, UTC epoch ms: of what is new the first, of what vanished the last. */
  readonly at: number;
  /** Release that was first or last to send it. */
  readonly release: string;
}

export interface Drift {
  readonly changes: readonly DriftChange[];
  /** Messages of each side. */
  readonly before: number;
  readonly after: number;
}

/** What the other side must have been expected to show for its lack to be no chance: the chance of none at all is then below e⁻¹⁰. */
const EXPECTED_LEAST = 10;
const WEEK_HOURS = 168;

/** How often each hour of the week occurs before and after a moment. */
class HoursOfWeek {
  private readonly before: Float64Array;
  private readonly after: Float64Array;
  constructor(from: number, since: number, now: number) {
    this.before = HoursOfWeek.between(from, since);
    this.after = HoursOfWeek.between(since, now);
  }

  private static between(from: number, to: number): Float64Array {
    const out = new Float64Array(WEEK_HOURS);
    const hours = Math.max(0, (to - from) / HOUR_MS);
    const whole = Math.floor(hours / WEEK_HOURS);
    out.fill(whole);
    for (let t = from + whole * WEEK_HOURS * HOUR_MS; t < to;) {
      const next = Math.min(to, (Math.floor(t / HOUR_MS) + 1) * HOUR_MS);
      out[HoursOfWeek.at(t)]! += (next - t) / HOUR_MS;
      t = next;
    }
    return out;
  }

  private static at(t: number): number {
    const hour = Math.floor(t / HOUR_MS) % WEEK_HOURS;
    return hour < 0 ? hour + WEEK_HOURS : hour;
  }

  /** How many like it one message of a moment lets expect on the other side: those of the same hour of the week. */
  weight(t: number, isAfter: boolean): number {
    const h = HoursOfWeek.at(t);
    const [own, other] = isAfter ? [this.after, this.before] : [this.before, this.after];
    return own[h]! > 0 ? other[h]! / own[h]! : 0;
  }
}

/** Compares what came from `from` up to `since` with what came since, event by event and source by source. Carried on as messages come.
 *  Shape: gravest first: events, properties, types, values; then by how many messages. Something is new or vanished only where the other
 *  side would have shown at least ten: at the rate of the side that has it, and also in the same hours of the week, so that a night or a
 *  weekend without it is no change. Values are compared where there are at most sixty.
 *  Units: UTC epoch ms, by the messages' own time.
 */
export const driftSince = (table: MessageTable, from: number, since: number, now: number): Drift => {
  const time = table.time.raw;
  const state = seenSince(table, from, since, now);
  const changes: DriftChange[] = [];
  const hours = new HoursOfWeek(from, since, now);
  /** Says whether it is new or vanished, given the messages on either side that could have shown it, and which rows do. */
  const judge = (
    s: Sight,
    has: (row: number) => boolean,
    base: Size,
    about: Pick<DriftChange, 'what' | 'eventName' | 'sourceId' | 'property' | 'value'>,
  ): void => {
    const isNew = s.before === 0 && s.after > 0 && (s.after / base.after) * base.before >= EXPECTED_LEAST;
    const isGone = s.after === 0 && s.before > 0 && (s.before / base.before) * base.after >= EXPECTED_LEAST;
    if (!isNew && !isGone) return;
    const source = table.sources.find(about.sourceId);
    let expected = 0;
    for (const row of table.rowsOf(about.eventName))
      if (time[row]! >= from && time[row]! <= now && table.source.get(row) === source && has(row))
        expected += hours.weight(time[row]!, isNew);
    if (expected < EXPECTED_LEAST) return;
    const row = isNew ? s.firstRow : s.lastRow;
    changes.push({
      ...about,
      change: isNew ? 'new' : 'vanished',
      messages: isNew ? s.after : s.before,
      at: time[row]!,
      release: table.releases.values[table.release.get(row)]!,
    });
  };
  for (const [name, bySource] of [...state.parts].sort(([a], [b]) => a - b))
    for (const [source, { all, properties }] of bySource) {
      const [eventName, sourceId] = [table.names.values[name]!, table.sources.values[source]!];
      judge(all, () => true, state.sources[source]!, { what: 'event', eventName, sourceId, property: '', value: '' });
      if (all.before === 0 || all.after === 0) continue;
      for (const [c, p] of properties) {
        const { column, values } = c;
        const { whole, types } = sumsOf(c, p);
        if (whole.before + whole.after === 0) continue;
        const about = { eventName, sourceId, property: p.property };
        judge(whole, (row) => column.get(row) >= 0, all, { ...about, what: 'property', value: '' });
        if (whole.before === 0 || whole.after === 0) continue;
        for (const [type, s] of types)
          judge(s, (row) => column.get(row) >= 0 && typeOfValue(c, column.get(row)) === type, whole, {
            ...about,
            what: 'type',
            value: type,
          });
        // Where a type is new, each of its values is; that is one change, not many.
        if (p.isText) continue;
        for (const [v, s] of p.byValue) {
          const t = types.get(typeOfValue(c, v))!;
          if (t.before > 0 && t.after > 0)
            judge(s, (row) => column.get(row) === v, whole, { ...about, what: 'value', value: masked(String(values.values[v])) });
        }
      }
    }
  const rank = { event: 0, property: 1, type: 2, value: 3 } as const;
  const { before, after } = state.size;
  return { changes: changes.sort((a, b) => rank[a.what] - rank[b.what] || b.messages - a.messages), before, after };
};
