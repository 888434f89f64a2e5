import { entries, type Plan } from '../../plan/plan';
import { defineRule, type RuleHit } from '../rule';

export const firstEventWithoutId = defineRule({
  id: 'first-event-without-id',
  title: 'Identifier only after the first event',
  why: 'What a visitor does before signing in belongs to nobody, and no journey begins there.',
  example: {
    wrong: 'a kiosk that sends `user` after sign-in, and nothing before',
    right: 'a kiosk that sends `device` before sign-in, `device` and `user` after it',
  },
  severity: 'caution',
  message: (p: { readonly source: string }) => `${p.source} carries no identifier before sign-in, so its first events are nobody’s.`,
  *check(plan: Plan): Iterable<RuleHit<{ readonly source: string }>> {
    for (const [id, s] of entries(plan, 'source'))
      if (s.kind !== 'server' && s.idKinds.beforeSignIn.length === 0 && s.idKinds.afterSignIn.length > 0)
        yield { path: ['source', id, 'idKinds'], params: { source: s.name } };
  },
});
