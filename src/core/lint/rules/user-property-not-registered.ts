import type { Plan } from '../../plan/plan';
import { liveUserProperties } from '../live';
import { defineRule, type RuleHit } from '../rule';

export const userPropertyNotRegistered = defineRule({
  id: 'user-property-not-registered',
  title: 'User property not registered',
  why: 'It is sent and kept, and no report can group by it.',
  example: { wrong: 'a question that groups by `plan_tier`, which is not registered', right: 'the same, with `plan_tier` registered' },
  severity: 'note',
  message: (p: { readonly name: string }) => `\`${p.name}\` is not registered for reporting: sent, not usable. Registering locks its name.`,
  *check(plan: Plan): Iterable<RuleHit<{ readonly name: string }>> {
    for (const [id, u] of liveUserProperties(plan))
      if (!u.registered && !u.temporary) yield { path: ['userProperty', id, 'registered'], params: { name: u.name } };
  },
});
