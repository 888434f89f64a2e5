/** The messages of one event in order of time, with what formulas read of each laid side by side. */
import type { MessageTable } from './message-table';

export interface EventView {
  readonly rows: Int32Array;
  /** Ascending, UTC epoch ms. */
  readonly time: Float64Array;
  /** Person of each, −1 for none. */
  readonly person: Int32Array;
  /** The event whose messages they are. */
  readonly eventName?: string;
  /** Of a stretch: what it is cut from, and where it begins there. */
  readonly cutFrom?: { readonly view: EventView; readonly at: number };
}

/** A clock may be so far ahead of the receipt: what is dated later yet would make everything after it late. */
const AHEAD_MS = 10_000;

/** Positions by time. Messages mostly arrive in order: only those that came late, or are dated ahead of their receipt, are sorted, and then
 *  merged in.
 */
const inOrder = (rows: Int32Array, time: Float64Array, received: Float64Array): Int32Array => {
  let latest = -Infinity;
  const late: number[] = [];
  for (let i = 0; i < rows.length; i++) {
    const t = time[rows[i]!]!;
    if (t < latest || t - received[rows[i]!]! > AHEAD_MS) late.push(i);
    else latest = t;
  }
  if (late.length === 0) return rows;
  // Stretches between are copied as they are: a few late ones must not cost a look at each of the others.
  const punctual = new Int32Array(rows.length - late.length);
  let [from, filled] = [0, 0];
  for (const i of [...late, rows.length]) {
    punctual.set(rows.subarray(from, i), filled);
    filled += i - from;
    from = i + 1;
  }
  const others = Int32Array.from(late, (i) => rows[i]!).sort((x, y) => time[x]! - time[y]! || x - y);
  const out = new Int32Array(rows.length);
  [from, filled] = [0, 0];
  for (const row of others) {
    const to = placeOf(punctual, time, row, from);
    out.set(punctual.subarray(from, to), filled);
    filled += to - from;
    out[filled++] = row;
    from = to;
  }
  out.set(punctual.subarray(from), filled);
  return out;
};

/** Where a row belongs among rows by time, looked for from a place on in steps that double: late ones lie close to each other. */
const placeOf = (rows: Int32Array, time: Float64Array, row: number, from: number): number => {
  const at = time[row]!;
  const isBefore = (i: number): boolean => {
    const t = time[rows[i]!]!;
    return t < at || (t === at && rows[i]! < row);
  };
  let step = 1;
  let lo = from;
  while (lo + step < rows.length && isBefore(lo + step)) {
    lo += step;
    step *= 2;
  }
  let hi = Math.min(rows.length, lo + step);
  while (lo < hi) {
    const mid = (lo + hi) >> 1;
    if (isBefore(mid)) lo = mid + 1;
    else hi = mid;
  }
  return lo;
};

/** Those of rows in ascending order that come before a row. */
export const rowsBefore = (rows: Int32Array, end: number): Int32Array => {
  let lo = 0;
  let hi = rows.length;
  while (lo < hi) {
    const mid = (lo + hi) >> 1;
    if (rows[mid]! < end) lo = mid + 1;
    else hi = mid;
  }
  return rows.subarray(0, lo);
};

/** The messages of an event among those whose persons are known: what came since is not looked at. */
export const makeEventView = (table: MessageTable, eventName: string, personOfMessage: Int32Array): EventView => {
  const all = table.time.raw;
  const rows = inOrder(rowsBefore(table.rowsOf(eventName), personOfMessage.length), all, table.received.raw);
  const time = new Float64Array(rows.length);
  const person = new Int32Array(rows.length);
  for (let i = 0; i < rows.length; i++) {
    time[i] = all[rows[i]!]!;
    person[i] = personOfMessage[rows[i]!] ?? -1;
  }
  return { rows, time, person, eventName };
};

/** First position whose time is not before `at`. */
export const lowerBound = (time: Float64Array, at: number): number => {
  let lo = 0;
  let hi = time.length;
  while (lo < hi) {
    const mid = (lo + hi) >> 1;
    if (time[mid]! < at) lo = mid + 1;
    else hi = mid;
  }
  return lo;
};
