/** The messages of one event in order of time, with what formulas read of each laid side by side. */
import { Bitset } from './bitset';
import { lowerBound, rowsBefore } from './column';
import { followingPersons, type Attributed, type Otherwise } from './following-persons';
import type { NumberColumn } from './number-column';

export interface EventView {
  readonly rows: Int32Array;
  /** Ascending, UTC epoch ms. */
  readonly time: Float64Array;
  /** Person of each, −1 for none. */
  readonly person: Int32Array;
  /** The event whose messages they are, as its table tells it from others. */
  readonly eventName?: string;
  /** Of a stretch: what it is cut from, and where it begins there. */
  readonly cutFrom?: { readonly view: EventView; readonly at: number };
}

/** A clock may be so far ahead of the receipt: what is dated later yet would make everything after it late. */
const AHEAD_MS = 10_000;

/** Positions by time, then by arrival. Messages mostly arrive in order: only those that came late, or are dated ahead of their receipt, are sorted,
 *  and then merged in.
 */
const inOrder = (rows: Int32Array, time: Float64Array, received: NumberColumn): Int32Array => {
  const punctual = new Int32Array(rows.length);
  const late = new Int32Array(rows.length);
  let [n, lates, latest] = [0, 0, -Infinity];
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i]!;
    const t = time[row]!;
    if (t < latest || t - received.get(row) > AHEAD_MS) late[lates++] = row;
    else {
      latest = t;
      punctual[n++] = row;
    }
  }
  if (lates === 0) return rows;
  const others = late.subarray(0, lates).sort((x, y) => time[x]! - time[y]! || x - y);
  return merged(punctual.subarray(0, n), others, time);
};

/** Rows by time put together with others. */
const merged = (before: Int32Array, others: Int32Array, time: Float64Array): Int32Array => {
  const out = new Int32Array(before.length + others.length);
  let [i, n] = [0, 0];
  for (const row of others) {
    const at = time[row]!;
    while (i < before.length) {
      const t = time[before[i]!]!;
      if (t > at || (t === at && before[i]! > row)) break;
      out[n++] = before[i++]!;
    }
    out[n++] = row;
  }
  out.set(before.subarray(i), n);
  return out;
};

interface Growing {
  rows: Int32Array;
  time: Float64Array;
  person: Int32Array;
  view: EventView;
}

/** Fills a view's arrays from a position on. */
const lay = (
  of: Pick<EventView, 'rows' | 'time' | 'person'>,
  rows: Int32Array,
  at: number,
  { table, personOfMessage }: Attributed,
): void => {
  const all = table.time.raw;
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i]!;
    of.rows[at + i] = row;
    of.time[at + i] = all[row]!;
    of.person[at + i] = personOfMessage[row]!;
  }
};

/** Where more of an event's messages than this are laid out anew, all are. */
const MANY = 1 / 2;

/** An event's messages by time, laid out as those of before are, but for the ones that are dated or called otherwise. `undefined` where those are many. */
const takenOver = (people: Attributed, { than, dated }: Otherwise, key: string, upTo: number): Int32Array | undefined => {
  if (than.personOfMessage.length !== upTo) return undefined;
  const own = rowsBefore(people.table.rowsOf(key), upTo);
  const time = people.table.time.raw;
  const stays = new Bitset(upTo);
  for (const row of own) stays.add(row);
  for (const row of dated) stays.remove(row);
  const before = views(than, key).view.rows;
  const kept = new Int32Array(before.length);
  let n = 0;
  for (let i = 0; i < before.length; i++) if (stays.remove(before[i]!)) kept[n++] = before[i]!;
  if (own.length - n > own.length * MANY) return undefined;
  if (n === own.length) return n === before.length ? before : kept.slice(0, n);
  // Those that were not there before, or not then.
  for (const row of dated) stays.add(row);
  const others = own.filter((row) => stays.has(row)).sort((a, b) => time[a]! - time[b]! || a - b);
  return merged(kept.subarray(0, n), others, time);
};

const EVENTS = 5000;

const views: (people: Attributed, key: string) => Growing = followingPersons(
  (_people, eventName): Growing => ({
    rows: new Int32Array(0),
    time: new Float64Array(0),
    person: new Int32Array(0),
    view: { rows: new Int32Array(0), time: new Float64Array(0), person: new Int32Array(0), eventName },
  }),
  (state, people, from, to, eventName) => {
    const { table, otherwise } = people;
    const rows = from === 0 && otherwise ? takenOver(people, otherwise, eventName, to) : undefined;
    if (rows) {
      const [time, person] = [new Float64Array(rows.length), new Int32Array(rows.length)];
      lay({ rows, time, person }, rows, 0, people);
      Object.assign(state, { rows, time, person, view: { rows, time, person, eventName } });
      return true;
    }
    const all = rowsBefore(table.rowsOf(eventName), to);
    const before = state.view.rows.length;
    const fresh = inOrder(all.subarray(rowsBefore(all, from).length), table.time.raw, table.received);
    if (fresh.length === 0) return true;
    // What was given out before stays as it is: where something came late, all behind it is laid out again elsewhere.
    const at = lowerBound(state.view.time, table.time.get(fresh[0]!));
    if (all.length > state.rows.length || at < before) {
      const room = from === 0 ? all.length : all.length + (all.length >> 2) + 64;
      const more: Growing = { rows: new Int32Array(room), time: new Float64Array(room), person: new Int32Array(room), view: state.view };
      for (const k of ['rows', 'time', 'person'] as const) more[k].set(state.view[k].subarray(0, at));
      Object.assign(state, more);
    }
    lay(state, at < before ? merged(state.view.rows.subarray(at), fresh, table.time.raw) : fresh, at, people);
    state.view = {
      rows: state.rows.subarray(0, all.length),
      time: state.time.subarray(0, all.length),
      person: state.person.subarray(0, all.length),
      eventName,
    };
    return true;
  },
  EVENTS,
  (state, _people, { to }) => {
    // What was given out before stays as it was.
    const person = new Int32Array(state.person.length);
    const { length } = state.view.person;
    for (let i = 0; i < length; i++) person[i] = state.person[i]! < 0 ? -1 : to[state.person[i]!]!;
    state.person = person;
    state.view = { ...state.view, person: person.subarray(0, length) };
    return true;
  },
);

/** The messages of an event among those whose persons are known: what came since is not looked at. The same each time while none came. */
export const eventView = (people: Attributed, eventName: string): EventView => views(people, people.table.keyOf(eventName)).view;
