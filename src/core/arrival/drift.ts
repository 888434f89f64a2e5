/** What changed in what arrives since a moment: names, properties, types and values that are new or vanished. */
import { masked } from './personal-data';
import { following } from '../table/following';
import { typeWord, type MessageTable, type ScalarColumn } from '../table/message-table';

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

/** What one property of an event and source was, on either side. */
interface Carried {
  /** Of many values none is told apart: `whole` and `types` are all that is kept. */
  isText: boolean;
  readonly whole: Sight;
  readonly types: Map<string, Sight>;
  readonly byValue: Map<number, Sight>;
}

interface Part {
  readonly all: Sight;
  readonly properties: Map<string, Carried>;
}

interface Size {
  before: number;
  after: number;
}

interface Seen {
  readonly size: Size;
  readonly sources: Size[];
  /** By the index of the name, then of the source. */
  readonly parts: Map<number, Map<number, Part>>;
  /** Rows that say they happened after they were received: they count when their time has come. */
  ahead: number[];
}

const made = <K, V>(m: Map<K, V>, key: K, make: () => V): V => {
  let found = m.get(key);
  if (found === undefined) m.set(key, (found = make()));
  return found;
};

const typeOfValue = (c: ScalarColumn, v: number): string => typeWord(c.values.values[v]!);

/** Whole and types of a property, put together out of its values where these are told apart. */
const sumsOf = (
  c: ScalarColumn,
  { isText, whole, types, byValue }: Carried,
): { readonly whole: Sight; readonly types: ReadonlyMap<string, Sight> } => {
  if (isText) return { whole, types };
  const sums = { whole: sight(), types: new Map<string, Sight>() };
  for (const [v, s] of byValue) {
    fold(sums.whole, s);
    fold(made(sums.types, typeOfValue(c, v), sight), s);
  }
  return sums;
};

/** Takes rows into what was seen; those before `from` are left out. */
const takeRows = (state: Seen, table: MessageTable, rows: Int32Array, from: number, since: number): void => {
  const time = table.time.raw;
  const note = (s: Sight, row: number): void => {
    const at = time[row]!;
    if (at < since) {
      s.before++;
      if (at > s.lastBefore || (at === s.lastBefore && row < s.lastRow)) [s.lastBefore, s.lastRow] = [at, row];
    } else {
      s.after++;
      if (at < s.firstAfter || (at === s.firstAfter && row < s.firstRow)) [s.firstAfter, s.firstRow] = [at, row];
    }
  };
  while (state.sources.length < table.sources.values.length) state.sources.push({ before: 0, after: 0 });
  const byPart = new Map<number, Map<number, number[]>>();
  for (const row of rows) {
    if (time[row]! < from) continue;
    const source = table.source.get(row);
    const side = time[row]! < since ? 'before' : 'after';
    state.size[side]++;
    state.sources[source]![side]++;
    const name = table.name.get(row);
    if (name < 0) continue;
    const ofPart = made(
      made(byPart, name, () => new Map<number, number[]>()),
      source,
      (): number[] => [],
    );
    ofPart.push(row);
  }
  const carriedBy = propertiesCarried(table);
  for (const [name, bySource] of byPart)
    for (const [source, own] of bySource) {
      const part = made(
        made(state.parts, name, () => new Map<number, Part>()),
        source,
        (): Part => ({ all: sight(), properties: new Map() }),
      );
      for (const row of own) note(part.all, row);
      for (const property of carriedBy[name] ?? []) {
        const c = table.properties.get(property)!;
        const p = made(part.properties, property, (): Carried => ({ isText: false, whole: sight(), types: new Map(), byValue: new Map() }));
        for (const row of own) {
          const v = c.column.get(row);
          if (v < 0) continue;
          if (p.isText) {
            note(p.whole, row);
            note(made(p.types, typeOfValue(c, v), sight), row);
            continue;
          }
          note(made(p.byValue, v, sight), row);
          if (p.byValue.size <= MOST_VALUES) continue;
          // What was noted so far goes to the types, and the others with it.
          const { whole, types } = sumsOf(c, p);
          p.isText = true;
          fold(p.whole, whole);
          for (const [type, t] of types) fold(made(p.types, type, sight), t);
          p.byValue.clear();
        }
      }
    }
};

const seenSince = following(
  (): Seen => ({ size: { before: 0, after: 0 }, sources: [], parts: new Map(), ahead: [] }),
  (state, table, begin, end, key) => {
    const [from, since] = JSON.parse(key) as [number, number];
    const time = table.time.raw;
    const received = table.received.raw;
    const rows: number[] = [];
    for (let row = begin; row < end; row++)
      if (time[row]! > received[row]!) state.ahead.push(row);
      else if (time[row]! >= from) rows.push(row);
    takeRows(state, table, Int32Array.from(rows), from, since);
  },
  // The last days, and since a version.
  2,
);

/** Compares what came from `from` up to `since` with what came since, event by event and source by source. Carried on as messages come.
 *  Shape: gravest first: events, properties, types, values; then by how many messages. Something is new or vanished only where the other
 *  side would have shown at least ten: at the rate of the side that has it, and also in the same hours of the week, so that a night or a
 *  weekend without it is no change. Values are compared where there are at most sixty.
 *  Units: UTC epoch ms, by the messages' own time.
 */
export const driftSince = (table: MessageTable, from: number, since: number, now: number): Drift => {
  const time = table.time.raw;
  const state = seenSince(table, JSON.stringify([from, since]));
  const due = state.ahead.filter((row) => time[row]! <= now);
  if (due.length > 0) {
    state.ahead = state.ahead.filter((row) => time[row]! > now);
    takeRows(state, table, Int32Array.from(due), from, since);
  }
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
      for (const [property, p] of properties) {
        const c = table.properties.get(property)!;
        const { column, values } = c;
        const { whole, types } = sumsOf(c, p);
        if (whole.before + whole.after === 0) continue;
        const about = { eventName, sourceId, property };
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
