/** What changed in what arrives since a moment: names, properties, types and values that are new or vanished. */
import { masked } from './personal-data';
import { following } from '../table/following';
import { typeWord, type MessageTable } from '../table/message-table';

export interface DriftChange {
  readonly what: 'event' | 'property' | 'type' | 'value';
  readonly change: 'new' | 'vanished';
  readonly eventName: string;
  readonly sourceId: string;
  /** Empty for an event. */
  readonly property: string;
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
/** More values than this are free text, whose values come and go. */
const MOST_VALUES = 60;

interface Sight {
  before: number;
  after: number;
  firstAfter: number;
  firstRow: number;
  lastBefore: number;
  lastRow: number;
}

const sight = (): Sight => ({ before: 0, after: 0, firstAfter: Infinity, firstRow: -1, lastBefore: -Infinity, lastRow: -1 });

/** Puts what was seen of a part to the whole. Of equal moments the row that came first counts. */
const fold = (whole: Sight, part: Sight): void => {
  whole.before += part.before;
  whole.after += part.after;
  if (part.lastBefore > whole.lastBefore || (part.lastBefore === whole.lastBefore && part.lastRow < whole.lastRow))
    [whole.lastBefore, whole.lastRow] = [part.lastBefore, part.lastRow];
  if (part.firstAfter < whole.firstAfter || (part.firstAfter === whole.firstAfter && part.firstRow < whole.firstRow))
    [whole.firstAfter, whole.firstRow] = [part.firstAfter, part.firstRow];
};

const HOUR_MS = 3_600_000;
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

/** Index of an event's name → the properties that any message of it carries, in the order of the table's properties. */
const sightedProperties = following(
  () => [] as Set<string>[],
  (state, table, from, to) => {
    for (const [property, { column }] of table.properties)
      for (let row = from; row < to; row++) {
        const name = table.name.get(row);
        if (name >= 0 && column.get(row) >= 0) (state[name] ??= new Set()).add(property);
      }
  },
);
const propertiesCarried = (table: MessageTable): string[][] => {
  const order = [...table.properties.keys()];
  return sightedProperties(table).map((own) => order.filter((p) => own.has(p)));
};

/** Compares what came from `from` up to `since` with what came since, event by event and source by source.
 *  Shape: gravest first: events, properties, types, values; then by how many messages. Something is new or vanished only where the other
 *  side would have shown at least ten: at the rate of the side that has it, and also in the same hours of the week, so that a night or a
 *  weekend without it is no change. Values are compared where there are at most sixty.
 *  Units: UTC epoch ms, by the messages' own time.
 */
export const driftSince = (table: MessageTable, from: number, since: number, now: number): Drift => {
  const changes: DriftChange[] = [];
  const time = table.time.raw;
  let [before, after] = [0, 0];
  const sourceSizes = table.sources.values.map(() => ({ before: 0, after: 0 }));
  const counts = (row: number): boolean => time[row]! >= from && time[row]! <= now;
  for (let row = 0; row < table.length; row++) {
    if (!counts(row)) continue;
    const size = sourceSizes[table.source.get(row)]!;
    if (time[row]! < since) {
      before++;
      size.before++;
    } else {
      after++;
      size.after++;
    }
  }
  const note = (s: Sight, row: number): void => {
    const at = time[row]!;
    if (at < since) {
      s.before++;
      if (at > s.lastBefore) [s.lastBefore, s.lastRow] = [at, row];
    } else {
      s.after++;
      if (at < s.firstAfter) [s.firstAfter, s.firstRow] = [at, row];
    }
  };
  const hours = new HoursOfWeek(from, since, now);
  /** Says whether it is new or vanished, given the messages on either side that could have shown it, and the rows that do. */
  const judge = (
    s: Sight,
    rowsOfIt: () => Iterable<number>,
    base: { readonly before: number; readonly after: number },
    about: Pick<DriftChange, 'what' | 'eventName' | 'sourceId' | 'property' | 'value'>,
  ): void => {
    const isNew = s.before === 0 && s.after > 0 && (s.after / base.after) * base.before >= EXPECTED_LEAST;
    const isGone = s.after === 0 && s.before > 0 && (s.before / base.before) * base.after >= EXPECTED_LEAST;
    if (!isNew && !isGone) return;
    let expected = 0;
    for (const r of rowsOfIt()) expected += hours.weight(time[r]!, isNew);
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
  const carriedBy = propertiesCarried(table);
  for (const [name, eventName] of table.names.values.entries()) {
    const carried = carriedBy[name] ?? [];
    const bySource = new Map<number, { rows: number[]; all: Sight }>();
    for (const row of table.rowsOf(eventName)) {
      if (!counts(row)) continue;
      const s = table.source.get(row);
      let own = bySource.get(s);
      if (!own) bySource.set(s, (own = { rows: [], all: sight() }));
      own.rows.push(row);
      note(own.all, row);
    }
    for (const [source, { rows, all }] of bySource) {
      const sourceId = table.sources.values[source]!;
      judge(all, () => rows, sourceSizes[source]!, { what: 'event', eventName, sourceId, property: '', value: '' });
      if (all.before === 0 || all.after === 0) continue;
      for (const property of carried) {
        const { column, values } = table.properties.get(property)!;
        const whole = sight();
        const types = new Map<string, Sight>();
        const byValue = new Map<number, Sight>();
        const ofType = (v: number): Sight => {
          const type = typeWord(values.values[v]!);
          let t = types.get(type);
          if (!t) types.set(type, (t = sight()));
          return t;
        };
        // Of few values each row is noted once, with its value. Of many, what was noted so far goes to the types, and the others with it.
        let isText = false;
        const foldAll = (): void => {
          for (const [v, s] of byValue) {
            fold(whole, s);
            fold(ofType(v), s);
          }
        };
        for (const row of rows) {
          const v = column.get(row);
          if (v < 0) continue;
          if (isText) {
            note(whole, row);
            note(ofType(v), row);
            continue;
          }
          let s = byValue.get(v);
          if (!s) {
            byValue.set(v, (s = sight()));
            isText = byValue.size > MOST_VALUES;
          }
          note(s, row);
          if (isText) foldAll();
        }
        if (!isText) foldAll();
        if (whole.before + whole.after === 0) continue;
        const having = (is: (v: number) => boolean) => () => rows.filter((row) => is(column.get(row)));
        judge(
          whole,
          having((v) => v >= 0),
          all,
          { what: 'property', eventName, sourceId, property, value: '' },
        );
        if (whole.before === 0 || whole.after === 0) continue;
        for (const [type, s] of types)
          judge(
            s,
            having((v) => v >= 0 && typeWord(values.values[v]!) === type),
            whole,
            { what: 'type', eventName, sourceId, property, value: type },
          );
        // Where a type is new, each of its values is; that is one change, not many.
        if (byValue.size <= MOST_VALUES)
          for (const [v, s] of byValue) {
            const t = types.get(typeWord(values.values[v]!))!;
            if (t.before > 0 && t.after > 0)
              judge(
                s,
                having((x) => x === v),
                whole,
                { what: 'value', eventName, sourceId, property, value: masked(String(values.values[v])) },
              );
          }
      }
    }
  }
  const rank = { event: 0, property: 1, type: 2, value: 3 } as const;
  return { changes: changes.sort((a, b) => rank[a.what] - rank[b.what] || b.messages - a.messages), before, after };
};
