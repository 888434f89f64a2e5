/** What is said of a definition while it is written: circles, and conditions that never or always hold. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { Condition, Definition, Group } from '../../../src/core/definitions/definition';
import { EVERYTHING } from '../../../src/core/definitions/definition';
import { jaccard } from '../../../src/core/stats/jaccard';
import { lookAlikes, wordsOf } from '../../../src/core/definitions/look-alikes';
import { orderOf } from '../../../src/core/definitions/order';
import { vacuousIn } from '../../../src/core/definitions/vacuous';
import { refOf } from '../../../src/core/plan/property-path';
import { group, message, naiveHolds } from './naive';

const made = (name: string, ...names: string[]): Definition => ({
  name, source: { of: 'events', names }, where: EVERYTHING, changes: [], since: undefined,
}); // prettier-ignore

test('what a definition is made of comes before it, whatever the order they are given in', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.nat(9), fc.nat(9)), { maxLength: 25 }), fc.infiniteStream(fc.nat()), (pairs, stream) => {
      // Only of those with a lower number: no circle.
      const all = Array.from({ length: 10 }, (_, i) =>
        made(`d${i}`, 'raw', ...pairs.filter(([a, b]) => a === i && b < i).map(([, b]) => `d${b}`)),
      );
      const shuffled = [...all].sort(() => (stream.next().value! % 2 === 0 ? 1 : -1));
      const r = orderOf(shuffled);
      expect(r.ok && [...r.order].sort((a, b) => (a.name < b.name ? -1 : 1))).toEqual(all);
      if (r.ok)
        r.order.forEach((d, i) => {
          if (d.source.of === 'events')
            for (const n of d.source.names) if (n !== 'raw') expect(r.order.slice(0, i).map((x) => x.name)).toContain(n);
        });
    }),
    { seed: 71, numRuns: 200 },
  );
});

test('a circle is told with its way; a definition that bears the name of a twin is none', () => {
  expect(orderOf([made('a', 'b'), made('b', 'c'), made('c', 'b')])).toEqual({ ok: false, circle: ['b', 'c', 'b'] });
  expect(orderOf([made('Tool Viewed', 'Tool Viewed', 'tool_viewed')])).toMatchObject({ ok: true });
  expect(orderOf([made('a', 'b'), made('b', 'a')])).toEqual({ ok: false, circle: ['a', 'b', 'a'] });
});

const price = { of: 'property', name: refOf(['price']) } as const;
const colour = { of: 'property', name: refOf(['colour']) } as const;
const one = (match: Group['match'], ...conditions: Condition[]): Group => ({ match, conditions, groups: [] });

test('contradictions, and what always holds, are found', () => {
  const is = (v: string): Condition => ({ subject: colour, op: 'is', values: [v] });
  expect(vacuousIn(one('all', is('red'), is('blue')))?.what).toBe('never');
  expect(vacuousIn(one('any', is('red'), is('blue')))).toBeUndefined();
  expect(
    vacuousIn(one('all', { subject: price, op: 'more than', values: [10] }, { subject: price, op: 'at most', values: [10] }))?.what,
  ).toBe('never');
  expect(
    vacuousIn(one('all', { subject: price, op: 'more than', values: [10] }, { subject: price, op: 'less than', values: [10.5] })),
  ).toBeUndefined();
  expect(
    vacuousIn(one('any', { subject: colour, op: 'is present', values: [] }, { subject: colour, op: 'is absent', values: [] }))?.what,
  ).toBe('always');
  expect(vacuousIn(one('all', { subject: price, op: 'at least', values: [] }))?.what).toBe('never');
  expect(vacuousIn(one('all', { subject: price, op: 'at least', values: ['ten'] }))?.what).toBe('never');
  expect(vacuousIn({ ...EVERYTHING, groups: [one('all', is('red'), is('blue'))] })?.what).toBe('never');
  expect(vacuousIn(EVERYTHING)).toBeUndefined();
});

test('what is said to hold never or always does so on every message made up', () => {
  let told = 0;
  fc.assert(
    fc.property(group, fc.array(message, { minLength: 20, maxLength: 40 }), (g, messages) => {
      const v = vacuousIn(g);
      if (!v) return;
      told++;
      // A condition beyond the first group is of another one, so the group that it is in decides.
      const { match } = [g, ...g.groups].find((x) => v.conditions.every((c) => x.conditions.includes(c)))!;
      for (const m of messages) {
        const each = v.conditions.map((c) => naiveHolds(m, c));
        expect(match === 'all' ? each.every((h) => h) : each.some((h) => h)).toBe(v.what === 'always');
      }
    }),
    { seed: 72, numRuns: 3000 },
  );
  expect(told).toBeGreaterThan(200);
});

test('look-alikes: the odd one first, the bulk last, every value once', () => {
  fc.assert(
    fc.property(fc.dictionary(fc.string({ minLength: 1, maxLength: 12 }), fc.integer({ min: 1, max: 500 }), { maxKeys: 30 }), (counts) => {
      const values = new Map(Object.entries(counts));
      const out = lookAlikes(values);
      expect(out.map((l) => l.value).sort()).toEqual([...values.keys()].sort());
      for (const { likeness } of out) expect(likeness).toBeGreaterThanOrEqual(0);
      for (const { likeness } of out) expect(likeness).toBeLessThanOrEqual(1 + 1e-9);
      const total = [...values.values()].reduce((a, b) => a + b, 0);
      for (const { value, likeness } of out) {
        const each = [...values].map(([other, n]) => n * jaccard(wordsOf(value), wordsOf(other)));
        expect(likeness).toBeCloseTo(each.reduce((a, b) => a + b, 0) / total, 9);
      }
      expect(out.map((l) => l.likeness)).toEqual(out.map((l) => l.likeness).sort((a, b) => a - b));
    }),
    { seed: 73, numRuns: 200 },
  );
});
