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

test('what a row says last of a property holds; nothing said takes it away, with all that was inside of it', () => {
  const table = tableOf([{ at: 0, ids: {}, properties: { o: { x: 1, y: { z: 2 } }, n: 5 } }, { at: 1, ids: {} }]); // prettier-ignore
  expect([table.valueOf(0, 'n'), table.valueOf(1, 'n'), table.valueOf(0, 'never arrived'), table.valueOf(0, ['o', 'y', 'z'])]).toEqual([5, undefined, undefined, 2]); // prettier-ignore
  table.keepValue('properties', 0, 'n', null);
  table.keepValue('properties', 1, 'never arrived', null);
  expect([table.valueOf(0, 'n'), table.properties.has('never arrived')]).toEqual([undefined, false]);
  table.keepValue('properties', 0, 'o', 'a text');
  expect([table.valueOf(0, 'o'), table.valueOf(0, ['o', 'x']), table.valueOf(0, ['o', 'y', 'z'])]).toEqual(['a text', undefined, undefined]); // prettier-ignore
  table.keepValue('properties', 0, 'o', { x: 3 });
  expect([table.valueOf(0, ['o', 'x']), table.valueOf(0, ['o', 'y', 'z'])]).toEqual([3, undefined]);
  table.keepValue('properties', 0, 'o', undefined);
  expect([table.valueOf(0, 'o'), table.valueOf(0, ['o', 'x'])]).toEqual([undefined, undefined]);
});
