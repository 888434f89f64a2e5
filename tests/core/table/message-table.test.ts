import fc from 'fast-check';
import { expect, test } from 'vitest';
import { compileStep } from '../../../src/core/table/matcher';
import { IndexColumn } from '../../../src/core/table/column';
import { tableOf } from '../../build/messages';

test('a column gives back what was put in, and none where nothing was, however sparse', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.nat(5000), fc.nat()), { maxLength: 60 }), (writes) => {
      const column = new IndexColumn();
      const naive = new Map<number, number>();
      for (const [i, v] of writes) {
        column.set(i, v);
        naive.set(i, v);
      }
      for (const i of [...naive.keys(), 0, 17, 4999, 100_000]) expect(column.get(i)).toBe(naive.get(i) ?? -1);
    }),
    { seed: 13 },
  );
});

test('a compiled step is what looking at each message gives, values of other types kept apart', () => {
  const value = fc.constantFrom<unknown>('1', 1, true, 'true', '', 0, false, 'x', null, [1]);
  const message = fc.record({
    at: fc.nat(9),
    name: fc.constantFrom('A', 'B', 'constructor'),
    ids: fc.constant({}),
    properties: fc.dictionary(fc.constantFrom('p', 'q', '__proto__'), value),
  });
  const condition = fc.record({
    property: fc.constantFrom('p', 'q', 'r'),
    is: fc.constantFrom<string | number | boolean>('1', 1, true, 'true', '', 0, false),
  });
  fc.assert(
    fc.property(
      fc.array(message, { maxLength: 30 }),
      fc.constantFrom('A', 'B', 'C', 'constructor'),
      fc.array(condition, { maxLength: 2 }),
      (messages, eventName, where) => {
        const test_ = compileStep(tableOf(messages), { eventName, where });
        const found = messages.map((_, row) => test_(row));
        expect(found).toEqual(
          messages.map(
            (m) => m.name === eventName && where.every((c) => Object.hasOwn(m.properties, c.property) && m.properties[c.property] === c.is),
          ),
        );
      },
    ),
    { seed: 14, numRuns: 300 },
  );
});
