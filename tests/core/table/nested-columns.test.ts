import fc from 'fast-check';
import { expect, test } from 'vitest';
import { compileConditions } from '../../../src/core/table/matcher';
import { isScalar, MessageTable } from '../../../src/core/table/message-table';
import { projected } from '../../../src/core/table/projection';
import { readSegment, writeSegment } from '../../../src/core/table/segment';
import { isObject, pathOf, refOf, valueAt, type PropertyRef } from '../../../src/core/plan/property-path';
import { notKept, notKeptText } from '../../../src/core/questions/not-kept';
import { firedTwice } from '../../../src/core/arrival/many/double-fire';
import { resolvePersons } from '../../../src/core/identity/persons';
import { event, planWith, property } from '../../build/plan';
import { RULES, tableOf } from '../../build/messages';
import { blank } from '../../../src/core/plan/defaults';

const name = fc.constantFrom('a', 'b', 'c', '__proto__');
const leaf = fc.oneof(fc.constantFrom('x', 'y', 1, 2, true, null), fc.array(fc.constantFrom(1, 'x'), { maxLength: 2 }));
const object = (depth: number): fc.Arbitrary<Record<string, unknown>> =>
  fc.dictionary(name, depth === 0 ? leaf : fc.oneof(leaf, object(depth - 1)), { maxKeys: 3 });
const REFS: PropertyRef[] = ['a', 'b', ['a', 'b'], ['a', 'a', 'c'], ['b', '__proto__'], ['__proto__', 'a'], ['c', 'c', 'c', 'c']];

test('conditions on paths hold for the messages whose value there fulfils them', () => {
  const condition = fc.record({
    property: fc.constantFrom(...REFS),
    op: fc.constantFrom('is', 'is not', 'is present', 'is absent', 'at least' as const),
    is: fc.constantFrom<string | number | boolean>('x', 1, 2, true),
  });
  let held = 0;
  fc.assert(
    fc.property(fc.array(object(3), { maxLength: 20 }), condition, (messages, c) => {
      const table = tableOf(messages.map((properties) => ({ at: 0, ids: {}, properties })));
      const test_ = compileConditions(table, 'E', [c])!;
      messages.forEach((m, row) => {
        const v = valueAt(m, c.property);
        const present = v !== undefined && v !== null;
        const naive =
          c.op === 'is present'
            ? present
            : c.op === 'is absent'
              ? !present
              : c.op === 'is'
                ? v === c.is
                : c.op === 'is not'
                  ? present && v !== c.is
                  : typeof v === 'number' && typeof c.is === 'number' && v >= c.is;
        expect([m, c, test_(row)]).toEqual([m, c, naive]);
        if (naive && pathOf(c.property).length > 1 && c.op !== 'is absent') held++;
      });
    }),
    { seed: 31, numRuns: 4000 },
  );
  expect(held).toBeGreaterThan(100);
});

test('every scalar is kept at its path, of lists and objects that they are there and how large', () => {
  const count = (v: unknown, path: string[], said: Map<string, unknown>): void => {
    if (v === null) return;
    if (path.length > 0)
      said.set(JSON.stringify(path), Array.isArray(v) ? `list of ${v.length}` : isObject(v) ? `object of ${Object.keys(v).length}` : v);
    if (isObject(v)) for (const [k, x] of Object.entries(v)) count(x, [...path, k], said);
  };
  fc.assert(
    fc.property(fc.array(object(3), { maxLength: 8 }), (messages) => {
      const table = tableOf(messages.map((properties) => ({ at: 0, ids: {}, properties, userProperties: properties })));
      for (const of of ['properties', 'userProperties'] as const)
        messages.forEach((m, row) => {
          const naive = new Map<string, unknown>();
          count(m, [], naive);
          const own = [...table[of]].flatMap(([ref, { column, values }]) => {
            const v = values.values[column.get(row)];
            return v === undefined ? [] : [[JSON.stringify(pathOf(ref)), isScalar(v) ? v : String(v)] as const];
          });
          expect(new Map(own)).toEqual(naive);
        });
    }),
    { seed: 32, numRuns: 500 },
  );
});

const crowd = (rows: number): MessageTable =>
  tableOf(Array.from({ length: rows }, (_, i) => ({ at: i, ids: {}, properties: { cart: { [`sku-${i}`]: 1, total: i }, plain: i } })));

test('an object with a name of its own for each message makes a hundred columns and no more, and a question about the others says so', () => {
  const table = crowd(2000);
  expect(table.properties.size).toBe(102);
  expect(table.valueOf(1999, ['cart', 'total'])).toBe(1999);
  expect(table.mayLack('properties', ['cart', 'total'])).toBe(false);
  expect(table.mayLack('properties', ['cart', 'sku-1500'])).toBe(true);
  expect(table.mayLack('properties', ['plain', 'inner'])).toBe(false);
  const asks = (ref: PropertyRef) => ({
    ...blank('question'),
    formula: { type: 'total of a property', event: { eventName: 'E', where: [] }, property: ref, period: 'day' } as const,
  });
  expect(notKept(table, asks(['cart', 'sku-1500']))).toEqual([['cart', 'sku-1500']]);
  expect(notKept(table, asks(['cart', 'total']))).toEqual([]);
  expect(notKeptText([['cart', 'sku-1500']])).toContain('`cart.sku-1500` cannot be counted');
  // As much is known of it after a restart, and of the rows that a plan sees.
  const again = new MessageTable();
  readSegment(again, writeSegment(table, 0, table.length));
  expect(again.mayLack('properties', ['cart', 'sku-1500'])).toBe(true);
  const plan = planWith([property('p', { name: 'basket', formerNames: ['cart'] }), event('e', { name: 'E' })]);
  expect(projected(table, plan).mayLack('properties', ['basket', 'sku-1500'])).toBe(true);
});

test('what nests without end is kept as far as paths reach', () => {
  let deep: Record<string, unknown> = { end: 1 };
  for (let i = 0; i < 40; i++) deep = { in: deep };
  const table = tableOf([{ at: 0, ids: {}, properties: deep }]);
  expect(table.properties.size).toBe(8);
  expect(table.mayLack('properties', ['in', 'in', 'in', 'in', 'in', 'in', 'in', 'in', 'in'])).toBe(true);
});

test('former names count at any depth: of the object, and inside of it; where both came, the present one speaks', () => {
  const plan = planWith([
    property('o', { name: 'order', type: 'object', formerNames: ['purchase'] }),
    property('t', { name: 'total', within: ['order'], formerNames: ['sum'] }),
    event('e', { name: 'E', properties: [{ propertyId: 'o', required: false }] }),
  ]);
  const sent = [
    { order: { total: 1 } },
    { order: { sum: 2 } },
    { purchase: { total: 3 } },
    { purchase: { sum: 4 } },
    { purchase: { sum: 5 }, order: { total: 6 } },
    { order: { sum: 7, total: 8 } },
    { sum: 9, total: 10 },
  ];
  const table = projected(tableOf(sent.map((properties) => ({ at: 0, ids: {}, properties }))), plan);
  expect(sent.map((_, row) => table.valueOf(row, ['order', 'total']))).toEqual([1, 2, 3, 4, 6, 8, undefined]);
  expect([table.valueOf(6, 'sum'), table.valueOf(6, 'total')]).toEqual([9, 10]);
  expect([...table.properties.keys()].map((r) => JSON.stringify(refOf(pathOf(r))))).not.toContain('"purchase"');
});

test('two messages that differ in the key of their confirmation alone are one thing, wherever the key stands', () => {
  const at = (i: number, order: unknown) => ({ at: i / 100, ids: { user: 'u' }, properties: { order } });
  const table = tableOf([at(0, { key: 'k1', total: 5 }), at(1, { key: 'k2', total: 5 }), at(2, { key: 'k3', total: 6 })]);
  const people = resolvePersons(table, RULES);
  const own = { name: 'E', counterpart: { eventName: 'C', keyProperty: ['order', 'key'], windowMs: 1000 } };
  expect([...firedTwice(people, own, 2000)]).toEqual([1]);
  expect([...firedTwice(people, { name: 'E' }, 2000)]).toEqual([]);
});
