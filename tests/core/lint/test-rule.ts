/** The harness of the rules: frozen plans, exact paths and params, stated fixes, and a plan that is clean after the fix. */
import { describe, expect, test } from 'vitest';
import { applyEdits } from '../../../src/core/plan/edit';
import type { Plan } from '../../../src/core/plan/plan';
import type { Rule } from '../../../src/core/lint/rule';
import { deepFreeze } from '../../plans';

interface Invalid {
  readonly name: string;
  readonly plan: Plan;
  readonly path: readonly (string | number)[];
  readonly params: Record<string, unknown>;
  /** The sentence that a person reads. */
  readonly says: string;
  /** Whether a one-action mend comes with it. */
  readonly mends: boolean;
}

export const testRule = <P>(
  rule: Rule<string, P>,
  cases: { valid: readonly { name: string; plan: Plan }[]; invalid: readonly Invalid[] },
): void => {
  const r = rule as Rule<string, unknown>;
  describe(r.id, () => {
    test('has both kinds of cases', () => {
      expect(cases.valid.length).toBeGreaterThan(0);
      expect(cases.invalid.length).toBeGreaterThan(0);
      expect(new Set([...cases.valid, ...cases.invalid].map((c) => c.name)).size).toBe(cases.valid.length + cases.invalid.length);
    });
    test.each(cases.valid)('lets pass: $name', ({ plan }) => {
      expect([...r.check(deepFreeze(plan))]).toEqual([]);
    });
    test.each(cases.invalid)('finds: $name', ({ plan, path, params, says, mends }) => {
      const hits = [...r.check(deepFreeze(plan))];
      expect(hits).toHaveLength(1);
      const [hit] = hits;
      expect(hit!.path).toEqual(path);
      expect(hit!.params).toMatchObject(params);
      expect(r.message(hit!.params)).toBe(says);
      expect(hit!.fix !== undefined).toBe(mends);
      if (!hit!.fix) return;
      expect(r.mend?.(hit!.params)).toBeTruthy();
      const mended = applyEdits(plan, hit!.fix);
      expect(mended.ok && [...r.check(mended.plan)]).toEqual([]);
    });
  });
};
