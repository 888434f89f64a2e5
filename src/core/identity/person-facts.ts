/** What is known of each person out of their messages, carried on as they come. */
import { GrowingBits } from '../table/bitset';
import { GrowingCounts } from '../table/column';
import { followingPersons, type Attributed } from '../table/following-persons';
import { bitsAfter, byPersonAfter } from '../table/renumbering';

interface Sent {
  /** Person → messages. */
  readonly messages: GrowingCounts;
  /** Person → 1 where any source but some sent one. */
  readonly elsewhere: GrowingCounts;
}

const sent = followingPersons(
  (): Sent => ({ messages: new GrowingCounts(0), elsewhere: new GrowingCounts(0) }),
  ({ messages, elsewhere }, { table, personOfMessage, count }, from, to, key) => {
    messages.expect(count);
    elsewhere.expect(count);
    const leftOut = new Set((JSON.parse(key) as string[]).map((id) => table.sources.find(id)));
    const isOther = table.sources.values.map((_, s) => (leftOut.has(s) ? 0 : 1));
    const source = table.source.rawFor(to);
    const [n, others] = [messages.raw, elsewhere.raw];
    for (let row = from; row < to; row++) {
      const p = personOfMessage[row]!;
      if (p < 0) continue;
      n[p]!++;
      if (isOther[source[row]!] === 1) others[p] = 1;
    }
    return true;
  },
  undefined,
  ({ messages, elsewhere }, _people, by) => {
    messages.replace(byPersonAfter(messages.raw, by, (a, b) => a + b));
    elsewhere.replace(byPersonAfter(elsewhere.raw, by, Math.max));
    return true;
  },
);

/** Messages of each person, and whether any source but these sent one. Shape: at least as long as there are persons; not to be changed. */
export const sentByPersons = (
  people: Attributed,
  sources: readonly string[],
): { readonly messages: Int32Array; readonly elsewhere: Int32Array } => {
  const { messages, elsewhere } = sent(people, JSON.stringify([...sources].sort()));
  return { messages: messages.raw, elsewhere: elsewhere.raw };
};

/** Weeks, and days, weeks and months; those of today, and those of yesterday. */
const WAYS = 4;

const within = followingPersons(
  (_people, key) => (JSON.parse(key) as [number, number][]).map(() => new GrowingBits()),
  (sets, { table, personOfMessage }, begin, end, key) => {
    const spans = JSON.parse(key) as [number, number][];
    const time = table.time.raw;
    const first = Math.min(...spans.map(([from]) => from));
    for (let row = begin; row < end; row++) {
      const at = time[row]!;
      const p = personOfMessage[row]!;
      if (p < 0 || at < first) continue;
      for (let i = 0; i < spans.length; i++) if (at >= spans[i]![0] && at < spans[i]![1]) sets[i]!.add(p);
    }
    return true;
  },
  WAYS,
  (sets, _people, by) => {
    sets.forEach((set, i) => (sets[i] = bitsAfter(set, by)));
    return true;
  },
);

/** The persons with a message in each of some spans of time: from, and to, UTC epoch ms; the end is not in it. Not to be changed. */
export const personsWithin = (people: Attributed, spans: readonly (readonly [number, number])[]): readonly GrowingBits[] =>
  within(people, JSON.stringify(spans));

interface Newest {
  present: GrowingBits;
  /** Person → row of their newest message, + 1. */
  readonly row: GrowingCounts;
}

const newest = followingPersons(
  (): Newest => ({ present: new GrowingBits(), row: new GrowingCounts(0) }),
  ({ present, row: rows }, { table, personOfMessage, count }, from, to, base) => {
    rows.expect(count);
    const { raw } = rows;
    const time = table.time.raw;
    const name = base === '' ? undefined : table.names.find(base);
    const names = table.name.rawFor(to);
    for (let row = from; row < to; row++) {
      const p = personOfMessage[row]!;
      if (p < 0 || (name !== undefined && (name < 0 || names[row] !== name))) continue;
      present.add(p);
      const known = raw[p]! - 1;
      if (known < 0 || time[row]! >= time[known]!) raw[p] = row + 1;
    }
    return true;
  },
  undefined,
  (state, { table }, by) => {
    const time = table.time.raw;
    // At one moment the one that came later is the newer one.
    const newer = (a: number, b: number): number => ((time[a - 1]! - time[b - 1]! || a - b) > 0 ? a : b);
    state.present = bitsAfter(state.present, by);
    state.row.replace(byPersonAfter(state.row.raw, by, newer));
    return true;
  },
);

/** Who sent an event, or anything where it is empty; and the row of each one's newest message of it, + 1. Not to be changed. */
export const newestOfPersons = (people: Attributed, base: string): { readonly present: GrowingBits; readonly row: Int32Array } => {
  const { present, row } = newest(people, base);
  row.expect(people.count);
  return { present, row: row.raw };
};
