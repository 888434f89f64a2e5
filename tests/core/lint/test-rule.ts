/** The harness of the rules: frozen plans, exact paths and params, stated fixes, and a plan that is clean after the fix. */
import { describe, expect, test } from 'vitest';
import { applyEdits } from '../../../src/core/plan/edit';
import type { Plan } from '../../../src/core/plan/plan';
import type { Rule } from '../../../src/core/lint/rule';
import { deepFreeze } from '../../build/plan';

interface Expected<P> {
  readonly path: readonly (string | number)[];
  /** All of them. */
  readonly params: P;
  /** The sentence that a person reads. */
  readonly says: string;
  /** Whether a one-action fix comes with it. */
  readonly fixes: boolean;
}

type Invalid<P> = { readonly name: string; readonly plan: Plan } & (Expected<P> | { readonly hits: readonly Expected<P>[] });

export const testRule = <P>(
  r: Rule<string, P>,
  cases: { valid: readonly { name: string; plan: Plan }[]; invalid: readonly Invalid<NoInfer<P>>[] },
): void => {
  describe(r.id, () => {
    test('has both kinds of cases', () => {
      expect(cases.valid.length).toBeGreaterThan(0);
      expect(cases.invalid.length).toBeGreaterThan(0);
      expect(new Set([...cases.valid, ...cases.invalid].map((c) => c.name)).size).toBe(cases.valid.length + cases.invalid.length);
    });
    test.each(cases.valid)('lets pass: $name', ({ plan }) => {
      expect([...r.check(deepFreeze(plan))]).toEqual([]);
    });
    test.each(cases.invalid)('finds: $name', (c) => {
      const expected = 'hits' in c ? c.hits : [c];
      const hits = [...r.check(deepFreeze(c.plan))];
      expect(hits.map(({ path, params, fix }) => ({ path, params, says: r.message(params), fixes: fix !== undefined }))).toEqual(
        expected.map(({ path, params, says, fixes }) => ({ path, params, says, fixes })),
      );
      // Each fix, one after the other, leaves one finding less, and makes no new one.
      let plan = c.plan;
      for (let left = hits; ;) {
        const next = left.find((h) => h.fix !== undefined);
        if (!next?.fix) break;
        expect(r.fix?.(next.params)).toBeTruthy();
        const fixed = applyEdits(plan, next.fix);
        if (!fixed.ok) throw new Error(JSON.stringify(fixed));
        plan = fixed.plan;
        const now = [...r.check(deepFreeze(plan))];
        expect(now.length).toBeLessThan(left.length);
        left = now;
      }
    });
  });
};
