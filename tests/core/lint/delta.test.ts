import fc from 'fast-check';
import { expect, test } from 'vitest';
import { deltaOf, withDelta } from '../../../src/core/lint/delta';
import { fixOf, lintPlan, fixAll, withoutFix } from '../../../src/core/lint/lint';
import { applyEdits } from '../../../src/core/plan/edit';
import * as arbitrary from '../../build/arbitrary-plan';
import { event, planWith } from '../../build/plan';

test('a delta leads from any findings to any others, and what stayed keeps its identity', () => {
  fc.assert(
    fc.property(arbitrary.plan, arbitrary.plan, (a, b) => {
      const [from, to] = [a, b].map((p) => lintPlan(p).map(withoutFix)) as [
        ReturnType<typeof withoutFix>[],
        ReturnType<typeof withoutFix>[],
      ];
      expect(withDelta(from, deltaOf(from, to))).toEqual(to);
      const again = withDelta(from, deltaOf(from, structuredClone(from)));
      expect(again.every((f, i) => f === from[i])).toBe(true);
    }),
    { seed: 51, numRuns: 30 },
  );
});

test('a fix asked for later is the one that was found; fixing all leaves none', () => {
  const plan = planWith([event('a', { name: 'tool viewed' }), event('b', { name: 'loan started' })]);
  const found = lintPlan(plan).filter((f) => f.code === 'name-case');
  expect(found.map((f) => fixOf(plan, withoutFix(f)))).toEqual(found.map((f) => f.fix));
  const { edits, fixed } = fixAll(plan, 'name-case');
  const r = applyEdits(plan, edits);
  expect(fixed).toBe(2);
  expect(r.ok && lintPlan(r.plan).filter((f) => f.code === 'name-case')).toEqual([]);
});
