/** What all formulas take from the columns: rows of a step, persons, sessions, user properties as they were. */
import { compileConditions, type UserValues } from '../table/matcher';
import { groupRows, SESSION_GAP_MS, sessionsOf, type Sessions } from '../table/sessions';
import { Bitset } from '../table/bitset';
import type { FigureContext } from './figure';
import type { Step } from './formula';

interface Derived {
  persons?: number;
  sessions?: Sessions;
  readonly userValues: Map<string, UserValues>;
}

/** What was worked out for a resolution of persons; it lives as long as that does. */
const derived = new WeakMap<Int32Array, Derived>();
const derivedOf = (persons: Int32Array): Derived => {
  let d = derived.get(persons);
  if (!d) derived.set(persons, (d = { userValues: new Map() }));
  return d;
};

/** One more than the greatest person. */
export const personCount = ({ personOfMessage }: Pick<FigureContext, 'personOfMessage'>): number => {
  const d = derivedOf(personOfMessage);
  if (d.persons === undefined) {
    let most = -1;
    for (let i = 0; i < personOfMessage.length; i++) if (personOfMessage[i]! > most) most = personOfMessage[i]!;
    d.persons = most + 1;
  }
  return d.persons;
};

export const sessionsIn = (c: FigureContext): Sessions =>
  (derivedOf(c.personOfMessage).sessions ??= sessionsOf(c.table, c.personOfMessage, personCount(c), SESSION_GAP_MS));

/** A user property as it was at each message: the value that the person's last message up to then set.
 *  Messages before it was first set have none; it is never applied backwards.
 */
export const userValuesIn = (c: FigureContext, name: string): UserValues => {
  const known = derivedOf(c.personOfMessage).userValues;
  const found = known.get(name);
  if (found) return found;
  const { table, personOfMessage } = c;
  const p = table.userProperties.get(name);
  let made: UserValues;
  if (!p) made = { at: () => -1, values: [] };
  else {
    const set = p.column.rawFor(table.length);
    const time = table.time.raw;
    const rows: number[] = [];
    for (let row = 0; row < table.length; row++) if (set[row]! >= 0) rows.push(row);
    const { order, start } = groupRows(Int32Array.from(rows), (row) => personOfMessage[row]!, personCount(c), time);
    made = {
      values: p.values.values,
      at: (row) => {
        const person = personOfMessage[row]!;
        if (person < 0) return -1;
        let lo = start[person]!;
        let hi = start[person + 1]!;
        const t = time[row]!;
        while (lo < hi) {
          const mid = (lo + hi) >> 1;
          if (time[order[mid]!]! <= t) lo = mid + 1;
          else hi = mid;
        }
        return lo === start[person] ? -1 : set[order[lo - 1]!]!;
      },
    };
  }
  known.set(name, made);
  return made;
};

/** Rows of a step up to now and not before `since`, in order of arrival; filters and, for the main step, the group are kept. */
export const rowsOfStep = (c: FigureContext, step: Step, since = -Infinity, main = true): Int32Array => {
  const { table, now, allows } = c;
  const inGroup = main ? c.inGroup : undefined;
  const all = table.rowsOf(step.eventName);
  const where = compileConditions(table, step.where, (name) => userValuesIn(c, name));
  const time = table.time.raw;
  const out = new Int32Array(all.length);
  let n = 0;
  for (let i = 0; i < all.length; i++) {
    const row = all[i]!;
    const t = time[row]!;
    if (t > now || t < since) continue;
    if (where && !where(row)) continue;
    if (allows && !allows(row)) continue;
    if (inGroup && !inGroup(row)) continue;
    out[n++] = row;
  }
  return out.subarray(0, n);
};

/** Rows of any of the steps, each once, in order of arrival. */
export const rowsOfAny = (c: FigureContext, steps: readonly Step[], since = -Infinity, main = true): Int32Array => {
  const parts = steps.map((s) => rowsOfStep(c, s, since, main)).filter((r) => r.length > 0);
  if (parts.length <= 1) return parts[0] ?? new Int32Array(0);
  const all = new Int32Array(parts.reduce((n, r) => n + r.length, 0));
  let at = 0;
  for (const r of parts) {
    all.set(r, at);
    at += r.length;
  }
  all.sort();
  let n = 0;
  for (let i = 0; i < all.length; i++) if (i === 0 || all[i] !== all[i - 1]) all[n++] = all[i]!;
  return all.subarray(0, n);
};

/** The distinct persons of rows, and how many rows are nobody's. */
export const personsOf = (c: FigureContext, rows: Int32Array): { persons: Bitset; unattributed: number } => {
  const persons = new Bitset(personCount(c));
  const { personOfMessage } = c;
  let unattributed = 0;
  for (let i = 0; i < rows.length; i++) {
    const p = personOfMessage[rows[i]!]!;
    if (p < 0) unattributed++;
    else persons.add(p);
  }
  return { persons, unattributed };
};

/** Earliest and latest time of rows; `undefined` without rows. */
export const timeSpan = (c: FigureContext, rows: Int32Array): { first: number; last: number } | undefined => {
  if (rows.length === 0) return undefined;
  const time = c.table.time.raw;
  let first = Infinity;
  let last = -Infinity;
  for (let i = 0; i < rows.length; i++) {
    const t = time[rows[i]!]!;
    if (t < first) first = t;
    if (t > last) last = t;
  }
  return { first, last };
};
