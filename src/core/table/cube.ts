/** Messages counted by event, source and release, and by quarter of an hour: one look at each row, ever. */
import { following } from './following';
import type { MessageTable } from './message-table';

export interface CubeCell {
  /** Index of the name in the table; −1 for what is no event. */
  readonly name: number;
  readonly source: number;
  readonly release: number;
  messages: number;
}

const RELEASES = 100_000;
const SOURCES = 10_000;

const cells = following(
  () => new Map<number, CubeCell>(),
  (state, table, from, to) => {
    for (let row = from; row < to; row++) {
      const name = table.name.get(row);
      const source = table.source.get(row);
      const release = table.release.get(row);
      const key = ((name + 1) * SOURCES + source) * RELEASES + release;
      const cell = state.get(key);
      if (cell) cell.messages++;
      else state.set(key, { name, source, release, messages: 1 });
    }
  },
);

/** The cells of a table. Shape: every combination that occurs, in the order of first sight. */
export const cubeOf = (table: MessageTable): Iterable<CubeCell> => cells(table).values();

/** Messages of each source, by its index; events or not. */
export const messagesBySource = (table: MessageTable): Float64Array => {
  const out = new Float64Array(table.sources.values.length);
  for (const c of cubeOf(table)) out[c.source]! += c.messages;
  return out;
};

/** Every zone is a whole number of them away from UTC, so that a day anywhere is made of whole ones. */
export const SLOT_MS = 15 * 60_000;

const BELIEVED_MS = 7 * 86_400_000;

/** Messages of one event from one source by the quarter of an hour, in UTC, that they say they happened in. */
export interface Slots {
  readonly source: number;
  readonly counts: Map<number, number>;
  /** The first of them whose messages were received within a week of it: what waited longer, or is dated absurdly, begins no series; the
   *  days up to the real begin would be taken for days without a message.
   */
  first: number;
  /** Newest time that a message says, UTC epoch ms. */
  last: number;
}

const freshSlots = (source: number): Slots => ({ source, counts: new Map(), first: Infinity, last: -Infinity });

const slots = following(
  () => new Map<number, Map<number, Slots>>(),
  (state, table, from, to) => {
    const time = table.time.raw;
    const { received } = table;
    for (let row = from; row < to; row++) {
      const name = table.name.get(row);
      const source = table.source.get(row);
      let ofName = state.get(name);
      if (!ofName) state.set(name, (ofName = new Map<number, Slots>()));
      let own = ofName.get(source);
      if (!own) ofName.set(source, (own = freshSlots(source)));
      take(own, time[row]!, received.get(row));
    }
  },
);

/** All slots of a table, events and sources in the order of first sight. */
export function* slotsOf(table: MessageTable): Iterable<Slots> {
  for (const ofName of slots(table).values()) yield* ofName.values();
}

/** Takes a message into its slot. */
const take = (own: Slots, time: number, received: number): void => {
  if (time > own.last) own.last = time;
  const slot = Math.floor(time / SLOT_MS);
  own.counts.set(slot, (own.counts.get(slot) ?? 0) + 1);
  if (slot < own.first && Math.abs(received - time) <= BELIEVED_MS) own.first = slot;
};

/** Of a defined event, while its rows are the same. */
const ofRows = new WeakMap<Int32Array, ReadonlyMap<number, Slots>>();

const slotsOfRows = (table: MessageTable, rows: Int32Array): ReadonlyMap<number, Slots> => {
  const known = ofRows.get(rows);
  if (known) return known;
  const made = new Map<number, Slots>();
  for (const row of rows) {
    const source = table.source.get(row);
    let own = made.get(source);
    if (!own) made.set(source, (own = freshSlots(source)));
    take(own, table.time.get(row), table.received.get(row));
  }
  ofRows.set(rows, made);
  return made;
};

/** Those of one event, defined or not. */
export const slotsOfEvent = (table: MessageTable, eventName: string): Iterable<Slots> => {
  if (table.isDefined(eventName)) return slotsOfRows(table, table.rowsOf(eventName)).values();
  const name = table.names.find(eventName);
  return name < 0 ? [] : (slots(table).get(name)?.values() ?? []);
};

/** Begin of the first slot of several that can be believed, UTC epoch ms; `now` where none can. */
export const earliestOf = (several: Iterable<Pick<Slots, 'first'>>, now: number): number => {
  let first = Infinity;
  for (const s of several) first = Math.min(first, s.first);
  return Math.min(now, first * SLOT_MS);
};

/** Adds the messages of each period to its count; those outside of all periods are left out. */
export const addByPeriod = ({ counts }: Pick<Slots, 'counts'>, find: (at: number) => number, into: Float64Array): void => {
  for (const [slot, n] of counts) {
    const at = find(slot * SLOT_MS);
    if (at >= 0 && at < into.length) into[at]! += n;
  }
};
