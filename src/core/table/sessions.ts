/** Sessions and groups of rows by a key. */
import type { MessageTable } from './message-table';

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
  /** Row → session, −1 for a message of nobody. */
  readonly ofMessage: Int32Array;
  readonly count: number;
}

/** Sessions: messages of one person on one source with no gap longer than `gapMs`.
 *  Source: thirty minutes is common practice; no source.
 */
export const sessionsOf = (table: MessageTable, personOfMessage: Int32Array, persons: number, gapMs: number): Sessions => {
  const sources = table.sources.values.length;
  const rows = personOfMessage.length;
  const source = table.source.rawFor(rows);
  const time = table.time.raw;
  const all = Int32Array.from({ length: rows }, (_, i) => i);
  const key = (row: number): number => (personOfMessage[row]! < 0 ? -1 : personOfMessage[row]! * sources + source[row]!);
  const { order, start } = groupRows(all, key, persons * sources, time);
  const ofMessage = new Int32Array(rows).fill(-1);
  let count = 0;
  for (let k = 0; k + 1 < start.length; k++)
    for (let i = start[k]!; i < start[k + 1]!; i++) {
      if (i === start[k]! || time[order[i]!]! - time[order[i - 1]!]! > gapMs) count++;
      ofMessage[order[i]!] = count - 1;
    }
  return { ofMessage, count };
};
