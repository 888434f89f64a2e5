/** Sessions and groups of rows by a key. */
import { GrowingBits } from './bitset';
import { concerned, followingPersons, type Attributed, type Otherwise } from './following-persons';

/** Rows laid out by key, keys ascending, each key's rows by time, then in order of arrival.
 *  Shape: `order[start[k] .. start[k+1])` are the rows of key k. Rows with a negative key are left out.
 */
export const groupRows = (
  rows: Int32Array,
  keyOf: (row: number) => number,
  keys: number,
  time: Float64Array,
): { order: Int32Array; start: Int32Array } => {
  const start = new Int32Array(keys + 1);
  for (let i = 0; i < rows.length; i++) {
    const k = keyOf(rows[i]!);
    if (k >= 0) start[k + 1]!++;
  }
  for (let k = 0; k < keys; k++) start[k + 1]! += start[k]!;
  const next = start.slice(0, keys);
  const order = new Int32Array(start[keys]!);
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i]!;
    const k = keyOf(row);
    if (k >= 0) order[next[k]!++] = row;
  }
  for (let k = 0; k < keys; k++) sortByTime(order, start[k]!, start[k + 1]!, time);
  return { order, start };
};

const FEW = 40;

/** Sorts a stretch by time, stably. Messages mostly arrive in order, and a person has few: insertion is the fast way. */
const sortByTime = (order: Int32Array, from: number, to: number, time: Float64Array): void => {
  let sorted = true;
  for (let i = from + 1; i < to && sorted; i++) sorted = time[order[i - 1]!]! <= time[order[i]!]!;
  if (sorted) return;
  if (to - from > FEW) {
    const part = Array.from(order.subarray(from, to)).sort((a, b) => time[a]! - time[b]! || a - b);
    order.set(part, from);
    return;
  }
  for (let i = from + 1; i < to; i++) {
    const row = order[i]!;
    const t = time[row]!;
    let j = i - 1;
    while (j >= from && (time[order[j]!]! > t || (time[order[j]!]! === t && order[j]! > row))) {
      order[j + 1] = order[j]!;
      j--;
    }
    order[j + 1] = row;
  }
};

export interface Sessions {
  /** Row → session, −1 for a message of nobody. At least as long as there are rows. */
  readonly ofMessage: Int32Array;
  readonly count: number;
  /** More than the greatest session; not all numbers below are one. */
  readonly numbers: number;
  /** The same for two that differ only by what came since. */
  readonly lineage: object;
}

interface State {
  readonly gapMs: number;
  /** A source's place among those of a person: so many there is room for. */
  readonly stride: number;
  ofMessage: Int32Array;
  count: number;
  numbers: number;
  /** By person and source: time of the last message, and its session + 1, side by side. */
  last: Float64Array;
  lineage: object;
  tracks: boolean;
}

/** Of more persons and sources than this the last message of each is not kept in mind, and all are sorted out each time. */
const MAX_TRACKED = 40_000_000;

const roomFor = (state: State, persons: number, rows: number): void => {
  const length = persons * state.stride * 2;
  if (length > MAX_TRACKED) state.tracks = false;
  if (state.tracks && state.last.length < length) {
    const next = new Float64Array(Math.max(length, state.last.length + (state.last.length >> 2)));
    next.set(state.last);
    state.last = next;
  }
  if (state.ofMessage.length < rows) {
    const next = new Int32Array(rows + (rows >> 3) + 1024);
    next.set(state.ofMessage);
    state.ofMessage = next;
  }
};

/** Gives rows from one up to another to sessions; those of persons with `skip` are left out. Which persons have a message that says it happened before one
 *  that came earlier from the same source: these are left as they are from there on.
 */
const take = (state: State, { table, personOfMessage }: Attributed, from: number, to: number, skip: Uint8Array): boolean => {
  const source = table.source.rawFor(to);
  const time = table.time.raw;
  const { ofMessage, last, stride, gapMs } = state;
  let isLate = false;
  let { count } = state;
  let { numbers } = state;
  for (let row = from; row < to; row++) {
    const p = personOfMessage[row]!;
    if (p < 0) {
      ofMessage[row] = -1;
      continue;
    }
    if (skip[p] === 1) continue;
    const at = time[row]!;
    const k = (p * stride + source[row]!) * 2;
    const session = last[k + 1]!;
    if (session > 0 && at < last[k]!) {
      skip[p] = 1;
      isLate = true;
      continue;
    }
    if (session === 0 || at - last[k]! > gapMs) {
      last[k + 1] = ++numbers;
      count++;
    }
    last[k] = at;
    ofMessage[row] = last[k + 1]! - 1;
  }
  state.count = count;
  state.numbers = numbers;
  return isLate;
};

/** Gives all rows of some persons to sessions anew, by time. */
const sortOut = (state: State, { table, personOfMessage, count }: Attributed, of: Uint8Array): void => {
  const { ofMessage, last, stride, gapMs } = state;
  const before = new Set<number>();
  let n = 0;
  for (let row = 0; row < personOfMessage.length; row++) {
    const p = personOfMessage[row]!;
    if (p < 0 || of[p] === 0) continue;
    n++;
    if (ofMessage[row]! >= 0) before.add(ofMessage[row]!);
  }
  state.count -= before.size;
  const rows = new Int32Array(n);
  n = 0;
  for (let row = 0; row < personOfMessage.length; row++) {
    const p = personOfMessage[row]!;
    if (p >= 0 && of[p] === 1) rows[n++] = row;
  }
  const time = table.time.raw;
  const { order, start } = groupRows(rows, (row) => personOfMessage[row]!, count, time);
  // Of each source: whose message it had last, when, and in which session.
  const { length } = table.sources.values;
  const lastPerson = new Int32Array(length).fill(-1);
  const lastAt = new Float64Array(length);
  const session = new Int32Array(length);
  for (let p = 0; p < count; p++) {
    for (let i = start[p]!; i < start[p + 1]!; i++) {
      const row = order[i]!;
      const s = table.source.get(row);
      const at = time[row]!;
      if (lastPerson[s] !== p || at - lastAt[s]! > gapMs) {
        lastPerson[s] = p;
        session[s] = state.numbers++;
        state.count++;
      }
      lastAt[s] = at;
      ofMessage[row] = session[s]!;
    }
    if (!state.tracks || start[p] === start[p + 1]) continue;
    for (let s = 0; s < length; s++) {
      const k = (p * stride + s) * 2;
      last[k] = lastAt[s]!;
      last[k + 1] = lastPerson[s] === p ? session[s]! + 1 : 0;
    }
  }
};

/** The sessions of messages that are otherwise: those of before, and anew those of all who are concerned. */
const takenOver = (state: State, people: Attributed, otherwise: Otherwise): void => {
  const { than } = otherwise;
  const before = followed(than, String(state.gapMs));
  const of = concerned(people, otherwise);
  const rows = people.personOfMessage.length;
  const ofMessage = before.ofMessage.slice(0, rows);
  const gone = new GrowingBits();
  for (let row = 0; row < rows; row++) {
    const p = than.personOfMessage[row]!;
    if (p < 0 || of[p] === 0) continue;
    gone.add(ofMessage[row]!);
    ofMessage[row] = -1;
  }
  Object.assign(state, { ofMessage, count: before.count - gone.size, numbers: before.numbers, tracks: false });
  sortOut(state, people, of);
};

/** Where more of all persons than this must be sorted out, all are. */
const MANY = 1 / 20;

const followed = followingPersons(
  ({ table }, key): State => ({
    gapMs: Number(key),
    stride: table.sources.values.length + 1,
    ofMessage: new Int32Array(0),
    count: 0,
    numbers: 0,
    last: new Float64Array(0),
    lineage: {},
    tracks: true,
  }),
  (state, people, from, to) => {
    const { table, count, otherwise } = people;
    if (table.sources.values.length > state.stride) return false;
    if (from === 0 && otherwise?.than.personOfMessage.length === to) {
      takenOver(state, people, otherwise);
      return true;
    }
    roomFor(state, count, to);
    const late = new Uint8Array(count);
    state.ofMessage.fill(-1, from, to);
    if (!state.tracks) {
      if (from > 0) return false;
      sortOut(state, people, late.fill(1));
      return true;
    }
    if (!take(state, people, from, to, late)) return true;
    let lates = 0;
    for (const x of late) lates += x;
    if (from > 0 && lates > count * MANY) return false;
    sortOut(state, people, late);
    if (from > 0) state.lineage = {};
    return true;
  },
  undefined,
  (state, people, { to, joined }) => {
    if (!state.tracks) return false;
    const { last, stride } = state;
    state.last = new Float64Array(last.length);
    const width = stride * 2;
    const length = Math.min(to.length, Math.floor(last.length / width));
    for (let p = 0; p < length; p++) if (!joined.has(to[p]!)) state.last.set(last.subarray(p * width, (p + 1) * width), to[p]! * width);
    const of = new Uint8Array(people.count);
    for (const p of joined) of[p] = 1;
    sortOut(state, people, of);
    state.lineage = {};
    return true;
  },
);

/** Sessions: messages of one person on one source with no gap longer than `gapMs`. Carried on as messages come.
 *  Source: thirty minutes is common practice; no source.
 */
export const sessionsOf = (people: Attributed, gapMs: number): Sessions => {
  const { ofMessage, count, numbers, lineage } = followed(people, String(gapMs));
  return { ofMessage, count, numbers, lineage };
};
