import { limitsOf, type LimitUse } from '../../plan/limits';
import { SETTINGS_ID, type Plan } from '../../plan/plan';
import { defineRule, type RuleHit } from '../rule';

export const limitExceeded = defineRule({
  id: 'limit-exceeded',
  title: 'Limit exceeded',
  why: 'What comes after the limit is dropped where the data goes, without a word.',
  example: { wrong: '510 events, where the limit is 500', right: '490 events, where the limit is 500' },
  severity: 'stop',
  message: (u: LimitUse) => `${u.used} ${u.what}, and the limits profile allows ${u.limit}.`,
  *check(plan: Plan): Iterable<RuleHit<LimitUse>> {
    for (const use of limitsOf(plan)) if (use.used > use.limit) yield { path: ['settings', SETTINGS_ID, 'limits'], params: use };
  },
});
