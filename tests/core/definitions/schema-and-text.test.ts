/** A definition at the boundary and in words; what becomes of its properties. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { copied } from '../../../src/core/definitions/copied';
import type { Change, Condition, Definition } from '../../../src/core/definitions/definition';
import { takesNone, takesSeveral } from '../../../src/core/definitions/definition';
import { definitionSchema } from '../../../src/core/definitions/definition-schema';
import { definitionText } from '../../../src/core/definitions/text';
import { condition } from './naive';

const made = (conditions: readonly Condition[], changes: readonly Change[] = []): Definition => ({
  name: 'Form Sent', source: { of: 'events', names: ['Page Viewed'] }, where: { match: 'all', conditions, groups: [] }, changes, since: undefined,
}); // prettier-ignore
const problems = (d: Definition): string[] => definitionSchema.safeParse(d).error?.issues.map((i) => i.message) ?? [];

test('a condition is taken where its operator has what it needs, and else refused with a sentence', () => {
  fc.assert(
    fc.property(condition, (c) => {
      const [first] = c.values;
      const number = ['at least', 'at most', 'more than', 'less than'].includes(c.op);
      const text = ['contains', 'starts with', 'matches'].includes(c.op);
      const fits = takesNone(c.op)
        ? c.values.length === 0
        : (takesSeveral(c.op) || c.values.length === 1) && (!number || typeof first === 'number') && (!text || typeof first === 'string');
      expect(problems(made([c])).length === 0).toBe(fits);
      for (const p of problems(made([c]))) expect(p).toMatch(/[.]$/);
      // What is taken comes back as it was.
      if (fits) expect(definitionSchema.parse(made([c]))).toEqual(made([c]));
    }),
    { seed: 81, numRuns: 1000 },
  );
});

test('a pattern that takes exponential time is none here, and one that can’t be read is refused', () => {
  const page = { of: 'page address' } as const;
  expect(problems(made([{ subject: page, op: 'matches', values: ['(a+)+$'] }]))).toEqual([]);
  expect(problems(made([{ subject: page, op: 'matches', values: ['(a'] }]))[0]).toMatch(/no regular expression/);
  expect(problems(made([{ subject: page, op: 'matches', values: ['(a)\\1'] }]))[0]).toMatch(/bounded time/);
});

test('in words', () => {
  expect(
    definitionText({
      source: { of: 'events', names: ['Page Viewed', 'page_viewed'] },
      where: {
        match: 'all',
        conditions: [{ subject: { of: 'page path' }, op: 'is', values: ['/contact/thanks'] }],
        groups: [
          {
            match: 'any',
            conditions: [
              { subject: { of: 'property', name: ['order', 'total'] }, op: 'at least', values: [10] },
              { subject: { of: 'user property', name: 'tier' }, op: 'is one of', values: ['gold', 'basic'] },
              { subject: { of: 'release' }, op: 'is absent', values: [] },
            ],
          },
          { match: 'all', conditions: [] },
        ],
      },
      changes: [
        { what: 'set', name: 'form', value: 'contact' },
        { what: 'rename', name: 'id', to: 'form_id' },
        { what: 'drop', name: 'raw' },
      ],
    }),
  ).toBe(
    'Messages of `Page Viewed` or `page_viewed` where the page path is “/contact/thanks” and (`order.total` at least 10 or the user’s `tier` is one of “gold”, “basic” or the release is absent).' +
      ' Properties are copied, but `form` is set to “contact”; `id` is called `form_id`; `raw` is left out.',
  );
  expect(definitionText({ source: { of: 'interactions' }, where: { match: 'all', conditions: [], groups: [] }, changes: [] })).toBe(
    'Interactions.',
  );
});

const values = fc.dictionary(
  fc.constantFrom('a', 'b', 'c', 'd'),
  fc.oneof(fc.integer(), fc.constantFrom({ x: 1 }, { x: { y: 2 } }, [1], 'text')),
  {
    maxKeys: 4,
    noNullPrototype: true,
  },
);

test('properties are copied whole; the message stays as it is', () => {
  fc.assert(
    fc.property(values, (properties) => {
      const before = JSON.stringify(properties);
      const r = copied(properties, []);
      expect(r).toEqual({ values: properties, notes: [] });
      copied(properties, [
        { what: 'drop', name: 'a' },
        { what: 'set', name: ['b', 'x'], value: 9 },
        { what: 'rename', name: ['c', 'x'], to: 'z' },
      ]);
      expect(JSON.stringify(properties)).toBe(before);
    }),
    { seed: 82, numRuns: 200 },
  );
});

test('what is dropped is gone, what is renamed has its value under the new name, all else stays', () => {
  fc.assert(
    fc.property(values, fc.constantFrom('a', 'b', 'c', 'd'), (properties, name) => {
      const had = Object.hasOwn(properties, name);
      const rest = Object.fromEntries(Object.entries(properties).filter(([k]) => k !== name));
      const dropped = copied(properties, [{ what: 'drop', name }]);
      expect(dropped.values).toEqual(rest);
      expect(dropped.notes).toEqual(had ? [] : [`This message has no \`${name}\`.`]);
      const renamed = copied(properties, [{ what: 'rename', name, to: 'new' }]);
      expect(renamed.values).toEqual(had ? { ...rest, new: properties[name] } : rest);
      // There and back again.
      expect(copied(renamed.values, [{ what: 'rename', name: 'new', to: name }]).values).toEqual(properties);
    }),
    { seed: 83, numRuns: 300 },
  );
});

test('inside of objects; and what stands in the way is told', () => {
  const r = copied({ order: { id: 7, total: 3 }, text: 'x' }, [
    { what: 'rename', name: ['order', 'id'], to: 'total' },
    { what: 'set', name: ['text', 'inner'], value: 1 },
    { what: 'drop', name: ['order', 'none'] },
  ]);
  expect(r.values).toEqual({ order: { total: 7 }, text: 'x' });
  expect(r.notes).toEqual([
    '`order.total` was there already, and is written over.',
    '`text.inner` can’t be set: something else than an object is around it.',
    'This message has no `order.none`.',
  ]);
});
