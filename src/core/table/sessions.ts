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

/** All rows laid out by key, as `groupRows` does; row → key, −1 for none. */
export const groupByKey = (key: Int32Array, keys: number, time: Float64Array): { order: Int32Array; start: Int32Array } => {
  const start = new Int32Array(keys + 1);
  for (let row = 0; row < key.length; row++) if (key[row]! >= 0) start[key[row]! + 1]!++;
  for (let k = 0; k < keys; k++) start[k + 1]! += start[k]!;
  const next = start.slice(0, keys);
  const order = new Int32Array(start[keys]!);
  for (let row = 0; row < key.length; row++) if (key[row]! >= 0) order[next[key[row]!]!++] = row;
  for (let k = 0; k < keys; k++) if (start[k + 1]! - start[k]! > 1) sortByTime(order, start[k]!, start[k + 1]!, time);
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
  const rows = personOfMessage.length;
  const source = table.source.rawFor(rows);
  const time = table.time.raw;
  const { order, start } = groupByKey(personOfMessage, persons, time);
  const ofMessage = new Int32Array(rows).fill(-1);
  // Of each source: whose message it had last, when, and in which session.
  const sources = table.sources.values.length;
  const lastPerson = new Int32Array(sources).fill(-1);
  const lastAt = new Float64Array(sources);
  const session = new Int32Array(sources);
  let count = 0;
  for (let p = 0; p < persons; p++)
    for (let i = start[p]!; i < start[p + 1]!; i++) {
      const row = order[i]!;
      const s = source[row]!;
      const at = time[row]!;
      if (lastPerson[s] !== p || at - lastAt[s]! > gapMs) {
        lastPerson[s] = p;
        session[s] = count++;
      }
      lastAt[s] = at;
      ofMessage[row] = session[s]!;
    }
  return { ofMessage, count };
};
