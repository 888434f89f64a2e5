/** What is worked out of messages that are otherwise, taken over from those of before, held against the same worked out from nothing. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { eventView } from '../../../src/core/table/event-view';
import type { Attributed } from '../../../src/core/table/following-persons';
import { MessageTable } from '../../../src/core/table/message-table';
import { overlaid } from '../../../src/core/table/overlay';
import { sessionsOf } from '../../../src/core/table/sessions';

const EVENTS = ['E', 'e', 'F'];
const GAP = 3;
const message = fc.record({
  name: fc.constantFrom(...EVENTS),
  source: fc.constantFrom('web', 'app'),
  at: fc.nat(20),
  person: fc.integer({ min: -1, max: 4 }),
  isLeftOut: fc.constantFrom(false, false, false, true),
  ahead: fc.constantFrom(0, 0, 0, 6),
  becomes: fc.constantFrom(undefined, undefined, undefined, 0, 2, 5, 6, -1),
});

/** Which rows share a number, told by the first row of each; −1 for none. */
const shape = (of: ArrayLike<number>, rows: number): number[] => {
  const firsts = new Map<number, number>();
  return Array.from({ length: rows }, (_, row) => {
    if (of[row]! < 0) return -1;
    if (!firsts.has(of[row]!)) firsts.set(of[row]!, row);
    return firsts.get(of[row]!)!;
  });
};

test('views of events and sessions are those worked out from nothing, also after what was taken over was carried on', () => {
  let together = 0;
  fc.assert(
    fc.property(fc.array(message, { maxLength: 40 }), fc.boolean(), fc.nat(3), (list, renames, begins) => {
      const table = new MessageTable();
      const add = (m: (typeof list)[number]): void =>
        void table.append({ seq: table.length + 1, kind: 'event', name: m.name, sourceId: m.source, release: '', occurredAt: m.at, receivedAt: 20, ids: {}, properties: {} }); // prettier-ignore
      const persons = Int32Array.from(list, (m) => m.person);
      const lineage = {};
      const upTo = (rows: number): Attributed => ({ table, personOfMessage: persons.subarray(0, rows), count: 5, lineage });
      // Some are there before, so that what is taken over was itself carried on.
      for (const [i, m] of list.entries()) {
        add(m);
        if (begins > 0 && i % begins === 0) {
          eventView(upTo(i + 1), 'E');
          sessionsOf(upTo(i + 1), GAP);
        }
      }
      const than = upTo(list.length);
      const dated = list.flatMap((m, row) => (m.ahead > 0 ? [row] : []));
      const over = overlaid(table, {
        leftOut: new Set(list.flatMap((m, row) => (m.isLeftOut ? [row] : []))),
        times: new Map(dated.map((row) => [row, list[row]!.at - list[row]!.ahead])),
        names: new Map(renames ? [['e', 'E']] : []),
        values: new Map(),
      });
      const personOfMessage = Int32Array.from(list, (m) => (m.isLeftOut ? -1 : (m.becomes ?? m.person)));
      const anew: Attributed = { table: over, personOfMessage, count: 7, lineage: {} };
      const taken: Attributed = { ...anew, personOfMessage: personOfMessage.slice(), lineage: {}, otherwise: { than, dated } };
      for (const name of EVENTS) {
        const [own, other] = [eventView(taken, name), eventView(anew, name)];
        expect([name, [...own.rows], [...own.time], [...own.person]]).toEqual([name, [...other.rows], [...other.time], [...other.person]]);
        if (own.rows.length > 0 && own.rows === eventView(than, name).rows) together++;
      }
      const [own, other] = [sessionsOf(taken, GAP), sessionsOf(anew, GAP)];
      expect(shape(own.ofMessage, list.length)).toEqual(shape(other.ofMessage, list.length));
      expect(own.count).toBe(other.count);
      for (const s of own.ofMessage.subarray(0, list.length)) expect(s).toBeLessThan(own.numbers);
      // Those of before are as they were.
      expect(shape(sessionsOf(than, GAP).ofMessage, list.length)).toEqual(shape(sessionsOf({ ...than, lineage: {} }, GAP).ofMessage, list.length)); // prettier-ignore
      expect([...eventView(than, 'E').rows]).toEqual([...eventView({ ...than, lineage: {} }, 'E').rows]);
    }),
    { seed: 12, numRuns: 600 },
  );
  expect(together).toBeGreaterThan(100);
});
