import { limitsOf, WARN_FROM, type LimitUse } from '../../plan/limits';
import { SETTINGS_ID, type Plan } from '../../plan/plan';
import { defineRule, type RuleHit } from '../rule';

export const limitNear = defineRule({
  id: 'limit-near',
  title: 'Little room left under a limit',
  why: 'Some of what is used up cannot be had back: a registered user property is neither renamed nor deleted.',
  example: { wrong: '470 of 500 events are used', right: '300 of 500 events are used' },
  severity: 'caution',
  message: (u: LimitUse) => `${u.used} of ${u.limit} ${u.what} are used; ${u.limit - u.used} left.`,
  *check(plan: Plan): Iterable<RuleHit<LimitUse>> {
    for (const use of limitsOf(plan))
      if (use.used <= use.limit && use.used >= use.limit * WARN_FROM) yield { path: ['settings', SETTINGS_ID, 'limits'], params: use };
  },
});
