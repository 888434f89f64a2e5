/** The messages of an event by time, against a plain sort: late ones, clocks ahead, absurd dates, equal times. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { lowerBound } from '../../../src/core/table/column';
import { eventView, type EventView } from '../../../src/core/table/event-view';
import { MessageTable } from '../../../src/core/table/message-table';

const message = fc.record({
  name: fc.constantFrom('Crate Moved', 'Crate Moved', 'Hall Opened'),
  // In most cases a little before its receipt; else late, ahead, or absurd.
  off: fc.oneof(
    { weight: 8, arbitrary: fc.integer({ min: 0, max: 3 }) },
    fc.integer({ min: -30_000, max: 30_000 }),
    fc.constantFrom(-4e12, 4e12, -1e6, 1e6),
  ),
  person: fc.integer({ min: -1, max: 5 }),
});

test('all rows of the event, ascending by time and then by number, each with its person; what came since is left out', () => {
  fc.assert(
    fc.property(fc.array(message, { maxLength: 120 }), fc.array(fc.nat(120), { minLength: 1, maxLength: 5 }), (messages, looks) => {
      const table = new MessageTable();
      messages.forEach((m, i) =>
        table.append({
          seq: i + 1,
          kind: 'event',
          name: m.name,
          sourceId: 's',
          release: '',
          occurredAt: i * 2 - m.off,
          receivedAt: i * 2,
          ids: {},
          properties: {},
        }),
      );
      // Looked at again and again as more is known, and sometimes as less was.
      const lineage = {};
      const seen: (readonly [EventView, unknown])[] = [];
      for (const known of looks) {
        const personOfMessage = Int32Array.from(messages, (m) => m.person).subarray(0, Math.min(known, messages.length));
        const view = eventView({ table, personOfMessage, count: 6, lineage }, 'Crate Moved');
        const expected = messages
          .map((m, row) => ({ row, time: row * 2 - m.off, person: m.person, name: m.name }))
          .filter((m) => m.name === 'Crate Moved' && m.row < personOfMessage.length)
          .sort((a, b) => a.time - b.time || a.row - b.row);
        seen.push([view, [expected.map((m) => m.row), expected.map((m) => m.time), expected.map((m) => m.person)]]);
        for (const at of [-5e12, 0, 60, 5e12]) expect(lowerBound(view.time, at)).toBe(expected.filter((m) => m.time < at).length);
      }
      // What was given out before is not changed by what comes later.
      for (const [view, expected] of seen) expect([[...view.rows], [...view.time], [...view.person]]).toEqual(expected);
    }),
    { seed: 23, numRuns: 1500 },
  );
});
