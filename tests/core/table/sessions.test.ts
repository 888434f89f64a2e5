/** Sessions and rows by key, held against plain loops: in any order of arrival, followed as messages come, for more people than are kept in mind one by one. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { Attributed } from '../../../src/core/table/following-persons';
import { groupRows, sessionsOf } from '../../../src/core/table/sessions';
import { tableOf } from '../../build/messages';

test('rows by key lie by time, then as they came, however many and however late', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.integer({ min: -1, max: 3 }), fc.nat(30)), { maxLength: 300 }), (list) => {
      const time = Float64Array.from(list, ([, t]) => t);
      const { order, start } = groupRows(Int32Array.from(list.keys()), (row) => list[row]![0], 4, time);
      const naive = [0, 1, 2, 3].map((key) => list.flatMap(([k], row) => (k === key ? [row] : [])).sort((a, b) => time[a]! - time[b]! || a - b));
      expect([0, 1, 2, 3].map((k) => [...order.subarray(start[k], start[k + 1])])).toEqual(naive);
    }),
    { seed: 4, numRuns: 300 },
  );
}); // prettier-ignore

interface Sent {
  readonly person: number;
  readonly at: number;
  readonly source: string;
}
const GAP_MIN = 30;

/** Which rows share a session: by person and source, in order of time, apart where there was a gap. */
const naiveSessions = (sent: readonly Sent[]): number[] => {
  const of = new Array<number>(sent.length).fill(-1);
  let number = 0;
  const rows = [...sent.keys()].filter((row) => sent[row]!.person >= 0);
  rows.sort((a, b) => sent[a]!.person - sent[b]!.person || (sent[a]!.source < sent[b]!.source ? -1 : sent[a]!.source > sent[b]!.source ? 1 : 0) || sent[a]!.at - sent[b]!.at || a - b); // prettier-ignore
  rows.forEach((row, i) => {
    const before = sent[rows[i - 1] ?? -1];
    const now = sent[row]!;
    if (before?.person !== now.person || before.source !== now.source || now.at - before.at > GAP_MIN) number++;
    of[row] = number;
  });
  return of;
};

/** The same whichever numbers the sessions have. */
const shape = (of: ArrayLike<number>, length: number): number[] => {
  const first = new Map<number, number>();
  return Array.from({ length }, (_, row) => {
    const s = of[row]!;
    if (s < 0) return -1;
    if (!first.has(s)) first.set(s, row);
    return first.get(s)!;
  });
};

const sentBy = (people: number, late: number) =>
  fc.record({
    person: fc.integer({ min: -1, max: people - 1 }),
    // Mostly in order, by the place in the list; some late, some far apart.
    off: fc.oneof({ weight: late, arbitrary: fc.integer({ min: -400, max: 0 }) }, { weight: 20, arbitrary: fc.constant(0) }),
    source: fc.constantFrom('a', 'b'),
  });

test('followed as messages come, some of them late: what all at once give', () => {
  fc.assert(
    fc.property(fc.array(sentBy(60, 1), { minLength: 20, maxLength: 260 }), fc.integer({ min: 1, max: 40 }), (list, step) => {
      const sent = list.map(({ person, off, source }, i): Sent => ({ person, at: 1000 + i * 9 + off, source }));
      const table = tableOf([]);
      const persons = new Int32Array(sent.length);
      const lineage = {};
      for (let i = 0; i < sent.length; i++) {
        const { person, at, source } = sent[i]!;
        persons[i] = person;
        table.append({ seq: i + 1, kind: 'event', name: 'E', sourceId: source, release: '', occurredAt: at * 60_000, ids: {}, properties: {} }); // prettier-ignore
        if (i % step !== 0 && i !== sent.length - 1) continue;
        const people: Attributed = { table, personOfMessage: persons.subarray(0, i + 1), count: 60, lineage };
        const { ofMessage, count } = sessionsOf(people, GAP_MIN * 60_000);
        const naive = naiveSessions(sent.slice(0, i + 1));
        expect(shape(ofMessage, i + 1)).toEqual(shape(naive, i + 1));
        expect(count).toBe(new Set(naive.filter((s) => s >= 0)).size);
      }
    }),
    { seed: 8, numRuns: 120 },
  );
});

test('for so many people that none is kept in mind, all are sorted out each time: the same sessions', () => {
  const sent: Sent[] = Array.from({ length: 90 }, (_, i) => ({ person: (i * 7) % 5, at: 1000 + ((i * 37) % 90) * 11, source: i % 3 === 0 ? 'a' : 'b' }));
  const table = tableOf([]);
  sent.forEach(({ at, source }, i) => table.append({ seq: i + 1, kind: 'event', name: 'E', sourceId: source, release: '', occurredAt: at * 60_000, ids: {}, properties: {} }));
  const lineage = {};
  const personOfMessage = Int32Array.from(sent, (s) => s.person);
  for (const length of [40, 90]) {
    const { ofMessage, count } = sessionsOf({ table, personOfMessage: personOfMessage.subarray(0, length), count: 7_000_000, lineage }, GAP_MIN * 60_000);
    const naive = naiveSessions(sent.slice(0, length));
    expect(shape(ofMessage, length)).toEqual(shape(naive, length));
    expect(count).toBe(new Set(naive).size);
  }
}); // prettier-ignore
