import { entries, type Plan } from '../../plan/plan';
import { defineRule, type RuleHit } from '../rule';

export const userIdChangeable = defineRule({
  id: 'user-id-changeable',
  title: 'User ID that may change',
  why: 'On the day it changes, one person becomes two, and all their history stays with the first.',
  example: { wrong: 'an e-mail address, marked as changeable, as the user ID', right: 'the number of the account as the user ID' },
  severity: 'caution',
  message: (p: { readonly name: string }) => `The identifier \`${p.name}\` identifies a person and may change.`,
  *check(plan: Plan): Iterable<RuleHit<{ readonly name: string }>> {
    for (const [id, k] of entries(plan, 'identifierKind'))
      if (k.identifies === 'person' && !k.stable) yield { path: ['identifierKind', id, 'stable'], params: { name: k.name } };
  },
});
