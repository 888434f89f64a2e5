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

/** Positions by time. Messages mostly arrive in order: only those that came late are sorted, and then merged in. */
const inOrder = (rows: Int32Array, time: Float64Array): Int32Array => {
  let latest = -Infinity;
  let late = 0;
  for (let i = 0; i < rows.length; i++) {
    const t = time[rows[i]!]!;
    if (t < latest) late++;
    else latest = t;
  }
  if (late === 0) return rows;
  const punctual = new Int32Array(rows.length - late);
  const others = new Array<number>(late);
  latest = -Infinity;
  let a = 0;
  let b = 0;
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i]!;
    const t = time[row]!;
    if (t < latest) others[b++] = row;
    else {
      latest = t;
      punctual[a++] = row;
    }
  }
  others.sort((x, y) => time[x]! - time[y]! || x - y);
  const out = new Int32Array(rows.length);
  a = b = 0;
  for (let i = 0; i < out.length; i++) {
    const p = punctual[a];
    const o = others[b];
    const takeLate = o !== undefined && (p === undefined || time[o]! < time[p]! || (time[o]! === time[p]! && o < p));
    out[i] = takeLate ? others[b++]! : punctual[a++]!;
  }
  return out;
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
  const rows = inOrder(rowsBefore(table.rowsOf(eventName), personOfMessage.length), all);
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
