import { isNumeric } from '../../plan/property-type';
import type { Plan } from '../../plan/plan';
import { liveUserProperties } from '../live';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly name: string;
  readonly because: string;
  readonly bounds: readonly number[];
}

/** More groups than a person can compare. Common practice, no source. */
const MAX_GROUPS = 20;
const ROUND_BOUNDS = [0, 1, 5, 10, 20, 50];

export const userPropertyTooManyValues = defineRule({
  id: 'user-property-too-many-values',
  title: 'User property with too many values to group by',
  why: 'A table with a row for each number compares nothing; a few buckets do.',
  example: {
    wrong: 'grouping by `tools_borrowed`, any whole number',
    right: 'grouping by `tools_borrowed` in buckets up to 5, 20 and more',
  },
  severity: 'caution',
  message: (p: Params) => `\`${p.name}\` has too many values to group by: ${p.because}.`,
  fix: (p: Params) => `Group it in buckets up to ${p.bounds.join(', ')} and more`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    for (const [id, u] of liveUserProperties(plan)) {
      if (u.buckets.length > 0 || u.allowed.length > 0) continue;
      const numeric = isNumeric(u.type);
      const many = (u.distinct ?? 0) > MAX_GROUPS;
      if (!many && !(numeric && u.distinct === undefined)) continue;
      yield {
        path: ['userProperty', id, 'buckets'],
        params: { name: u.name, because: many ? `${u.distinct} are expected` : 'it is a number without buckets', bounds: ROUND_BOUNDS },
        ...(numeric
          ? { fix: [{ op: 'set', kind: 'userProperty', id, field: 'buckets', before: u.buckets, after: ROUND_BOUNDS } as const] }
          : {}),
      };
    }
  },
});
