/** No fix gives two entities one name. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { lintPlan } from '../../../../src/core/lint/lint';
import { applyEdits } from '../../../../src/core/plan/edit';
import { entries, type Plan } from '../../../../src/core/plan/plan';
import { renameFix } from '../../../../src/core/plan/rename';
import { create, event, planWith, property } from '../../../build/plan';

const doubled = (plan: Plan): string[] =>
  (['event', 'property', 'userProperty'] as const).flatMap((kind) => {
    const names = entries(plan, kind).map(([, b]) => (b as { name: string }).name);
    return names.filter((n, i) => n !== '' && names.indexOf(n) !== i);
  });

test('a name in use, present or former, is not offered', () => {
  const plan = planWith([
    event('a', { name: 'Book Opened' }),
    event('b', { name: 'Opened Book', formerNames: ['Book Read'] }),
    property('p', { name: 'bookSize' }),
    property('q', { name: 'book_size' }),
  ]);
  expect(renameFix(plan, 'event', 'b', 'Book Opened')).toBeUndefined();
  expect(renameFix(plan, 'event', 'a', 'Book Read')).toBeUndefined();
  expect(renameFix(plan, 'property', 'p', 'book_size')).toBeUndefined();
  expect(renameFix(plan, 'property', 'p', 'book_weight')).toHaveLength(2);
  const found = lintPlan(plan).filter((f) => f.path[0] === 'property' && f.path[1] === 'p' && f.code === 'name-case');
  expect(found.map((f) => f.fix)).toEqual([undefined]);
});

const words = fc.constantFrom('book', 'Book', 'opened', 'Opened', 'open', 'books', 'read');
const name = fc
  .array(words, { minLength: 1, maxLength: 3 })
  .chain((w) => fc.constantFrom(w.join(' '), w.join('_'), w.join('-'), w.join('')));

test('whatever names a plan has, a fix adds no second of one name', () => {
  fc.assert(
    fc.property(
      fc.uniqueArray(name, { minLength: 2, maxLength: 6 }),
      fc.uniqueArray(name, { minLength: 2, maxLength: 6 }),
      (events, properties) => {
        const plan = planWith([
          ...events.map((n, i) => event(`e${i}`, { name: n })),
          ...properties.map((n, i) => property(`p${i}`, { name: n })),
          ...properties.map((n, i) => create('userProperty', `u${i}`, { name: n })),
        ]);
        for (const f of lintPlan(plan)) {
          if (!f.fix) continue;
          const r = applyEdits(plan, f.fix);
          if (r.ok) expect([f.code, doubled(r.plan)]).toEqual([f.code, []]);
        }
      },
    ),
    { seed: 11, numRuns: 300 },
  );
});
