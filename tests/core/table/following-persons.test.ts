/** What is carried on while messages come is what is worked out of all of them at once, whoever turns out to be whom and whatever comes late. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { firedTwice } from '../../../src/core/arrival/many/double-fire';
import { arrivalCounts } from '../../../src/core/arrival/counts';
import { LivingPersons } from '../../../src/core/identity/living-persons';
import { resolvePersons } from '../../../src/core/identity/persons';
import { countingBases } from '../../../src/core/identity/counting-basis';
import { newestOfPersons, personsWithin, sentByPersons } from '../../../src/core/identity/person-facts';
import type { Bitset } from '../../../src/core/table/bitset';
import { eventView } from '../../../src/core/table/event-view';
import { followingPersons, type Attributed } from '../../../src/core/table/following-persons';
import { MessageTable, type TableMessage } from '../../../src/core/table/message-table';
import { sessionsOf } from '../../../src/core/table/sessions';
import { create, event, planWith } from '../../build/plan';
import { RULES } from '../../build/messages';

const MINUTE = 60_000;
const GAP = 30 * MINUTE;
const WITHIN = 10_000;

const message = fc.record({
  /** Mostly after the one before, sometimes long before it. */
  step: fc.oneof(
    { weight: 6, arbitrary: fc.nat(40 * MINUTE) },
    { weight: 3, arbitrary: fc.nat(12_000) },
    { weight: 1, arbitrary: fc.integer({ min: -200 * MINUTE, max: 0 }) },
  ),
  late: fc.constantFrom(0, 0, 0, 20 * MINUTE, 3 * 1440 * MINUTE),
  name: fc.constantFrom('E', 'E', 'F', ''),
  sourceId: fc.constantFrom('s', 's', 't', 'u'),
  ids: fc.dictionary(fc.constantFrom('anonymous', 'device', 'user'), fc.constantFrom('1', '2', '3', '4', '5', 'null'), { maxKeys: 2 }),
  box: fc.constantFrom('a', 'a', 'b'),
});
type Drawn = typeof message extends fc.Arbitrary<infer T> ? T : never;

const messages = (list: readonly (Omit<Drawn, 'ids'> & { readonly ids: Readonly<Record<string, string>> })[]): TableMessage[] => {
  let at = 1000 * MINUTE;
  return list.map((m, i) => {
    at = Math.max(0, at + m.step);
    return {
      seq: i + 1,
      kind: m.name === '' ? 'identify' : 'event',
      name: m.name,
      sourceId: m.sourceId,
      release: '',
      occurredAt: at,
      receivedAt: at + m.late,
      ids: m.ids,
      properties: { box: m.box },
    };
  });
};

const plan = planWith(
  [
    create('source', 's', { name: 'Hall', expectedLagMs: 10 * MINUTE }),
    create('source', 't', { name: 'Desk' }),
    event('e', { name: 'E', sources: [] }),
  ],
  { timeZone: 'Asia/Kolkata' },
);
const FROM = 900 * MINUTE;
const NOW = 30 * 1440 * MINUTE;

/** Rows of each person and source by time, then by arrival. */
const grouped = ({ table, personOfMessage }: Attributed, name?: string): number[][] => {
  const groups = new Map<string, number[]>();
  personOfMessage.forEach((p, row) => {
    if (p < 0 || (name !== undefined && table.names.values[table.name.get(row)] !== name)) return;
    const key = name === undefined ? `${p} ${table.source.get(row)}` : String(p);
    groups.set(key, [...(groups.get(key) ?? []), row]);
  });
  for (const rows of groups.values()) rows.sort((a, b) => table.time.get(a) - table.time.get(b) || a - b);
  return [...groups.values()];
};

const pairsWithin = (people: Attributed, name: string): number[] => {
  const { table } = people;
  return grouped(people, name)
    .flatMap((rows) =>
      rows.filter((row, i) => {
        const before = rows[i - 1];
        return (
          before !== undefined &&
          table.time.get(row) - table.time.get(before) <= WITHIN &&
          table.source.get(row) === table.source.get(before) &&
          table.valueOf(row, 'box') === table.valueOf(before, 'box')
        );
      }),
    )
    .sort((a, b) => a - b);
};

test('sessions, what fired twice, and all counts', () => {
  let kept = 0;
  fc.assert(
    fc.property(fc.array(message, { maxLength: 50 }), fc.array(fc.nat(8), { maxLength: 12 }), (drawn, pieces) => {
      const all = messages(drawn);
      const table = new MessageTable();
      const living = new LivingPersons(table, RULES);
      let before: Attributed | undefined;
      for (const n of [...pieces, all.length]) {
        for (let i = 0; i < n && table.length < all.length; i++) table.append(all[table.length]!);
        if (living.follow() === 0 && before) continue;
        const people = living.persons();
        if (before && people.lineage === before.lineage) {
          kept++;
          expect(people.personOfMessage.subarray(0, before.personOfMessage.length)).toEqual(before.personOfMessage);
        }
        before = people;
        const { ofMessage, count } = sessionsOf(people, GAP);
        let expected = 0;
        for (const rows of grouped(people)) {
          rows.forEach((row, i) => {
            const isNew = i === 0 || table.time.get(row) - table.time.get(rows[i - 1]!) > GAP;
            if (isNew) expected++;
            else expect(ofMessage[row]).toBe(ofMessage[rows[i - 1]!]);
          });
        }
        expect(count).toBe(expected);
        expect(new Set([...people.personOfMessage.keys()].map((row) => ofMessage[row]!).filter((s) => s >= 0)).size).toBe(expected);
        for (const name of ['E', 'F'])
          expect([...firedTwice(people, { name }, WITHIN)].sort((a, b) => a - b)).toEqual(pairsWithin(people, name));
        const anew = resolvePersons(table, RULES);
        expect(arrivalCounts({ plan, people, from: FROM, now: NOW })).toEqual(arrivalCounts({ plan, people: anew, from: FROM, now: NOW }));
      }
    }),
    { seed: 5, numRuns: 600 },
  );
  expect(kept).toBeGreaterThan(200);
});

/** Somebody with some of their identifiers; now and then two people on one device. */
const whose = fc.record({ person: fc.nat(9), carries: fc.subarray(['anonymous', 'device', 'user'], { minLength: 1 }), on: fc.oneof({ weight: 40, arbitrary: fc.constant(null) }, { weight: 1, arbitrary: fc.nat(14) }) }); // prettier-ignore
const people = fc.tuple(message, whose).map(([m, { person, carries, on }]) => ({
  ...m,
  ids: Object.fromEntries(carries.map((kind) => [kind, `${kind} ${kind === 'device' ? (on ?? person) : person}`])),
}));

/** Messages of each person, by a way of this test's own that says how often it begins. */
let begun = 0;
let carried = 0;
const counted = followingPersons(
  () => {
    begun++;
    return { of: new Map<number, number>() };
  },
  ({ of }, { personOfMessage }, from, to) => {
    for (let row = from; row < to; row++) of.set(personOfMessage[row]!, (of.get(personOfMessage[row]!) ?? 0) + 1);
    return true;
  },
  undefined,
  (state, people, by) => {
    carried++;
    const next = new Map<number, number>();
    for (const [p, n] of state.of) {
      const q = p < 0 ? p : by.to[p]!;
      next.set(q, (next.get(q) ?? 0) + n);
    }
    state.of = next;
    expect([...next.values()].reduce((a, b) => a + b, 0)).toBe(people.personOfMessage.length);
    return true;
  },
);

test('who turns out to be whom: what is known by person is carried over, and is what all messages at once give', () => {
  const RUNS = 300;
  [begun, carried] = [0, 0];
  const SPANS = [[0, 1200 * MINUTE], [1100 * MINUTE, 1e15]] as const; // prettier-ignore
  const bits = (set: Bitset, count: number): number[] => Array.from({ length: count }, (_, p) => Number(set.has(p)));
  fc.assert(
    fc.property(
      fc.array(people, { minLength: 20, maxLength: 70 }),
      fc.array(fc.nat(4), { minLength: 15, maxLength: 25 }),
      fc.array(fc.nat(30), { maxLength: 5 }),
      (drawn, pieces, unasked) => {
        const all = messages(drawn);
        const table = new MessageTable();
        const living = new LivingPersons(table, RULES);
        for (const [i, n] of [...pieces, all.length].entries()) {
          for (let k = 0; k < n && table.length < all.length; k++) table.append(all[table.length]!);
          living.follow();
          const people = living.persons();
          // Not everybody asks each time.
          if (unasked.includes(i)) continue;
          const anew = resolvePersons(table, RULES);
          const { count } = anew;
          expect([people.count, [...people.personOfMessage]]).toEqual([count, [...anew.personOfMessage]]);
          const expected = new Map<number, number>();
          for (const p of anew.personOfMessage) expected.set(p, (expected.get(p) ?? 0) + 1);
          expect(new Map([...counted(people).of].sort(([a], [b]) => a - b))).toEqual(new Map([...expected].sort(([a], [b]) => a - b)));
          for (const of of ['messages', 'elsewhere'] as const)
            expect(sentByPersons(people, ['s'])[of].slice(0, count)).toEqual(sentByPersons(anew, ['s'])[of].slice(0, count));
          personsWithin(people, SPANS).forEach((set, k) => expect([set.size, bits(set, count)]).toEqual([personsWithin(anew, SPANS)[k]!.size, bits(personsWithin(anew, SPANS)[k]!, count)])); // prettier-ignore
          for (const base of ['', 'E']) {
            const [a, b] = [newestOfPersons(people, base), newestOfPersons(anew, base)];
            expect([bits(a.present, count), a.row.slice(0, count)]).toEqual([bits(b.present, count), b.row.slice(0, count)]);
          }
          expect(countingBases(people)).toEqual(countingBases(anew));
          for (const name of ['E', 'F']) {
            const [a, b] = [eventView(people, name), eventView(anew, name)];
            expect([a.rows, a.time, a.person]).toEqual([b.rows, b.time, b.person]);
            expect([...firedTwice(people, { name }, WITHIN)].sort((x, y) => x - y)).toEqual(pairsWithin(anew, name));
          }
          const [a, b] = [sessionsOf(people, GAP), sessionsOf(anew, GAP)];
          expect(a.count).toBe(b.count);
          // The same rows together, under whatever numbers.
          const first = (of: Int32Array): number[] => { const seen = new Map<number, number>(); return Array.from(of.subarray(0, table.length), (x, row) => (x < 0 ? -1 : (seen.get(x) ?? (seen.set(x, row), row)))); }; // prettier-ignore
          expect(first(a.ofMessage)).toEqual(first(b.ofMessage));
        }
      },
    ),
    { seed: 8, numRuns: RUNS },
  );
  expect(carried).toBeGreaterThan(200);
  // Each run begins once; beyond that where a guard speaks, or a device turns out to be of several people.
  expect(begun - RUNS).toBeLessThan(carried / 2);
});
