import type { Plan } from '../../plan/plan';
import { eventsForNoQuestion } from '../../questions/economy';
import { defineRule, type RuleHit } from '../rule';

export const eventForNoQuestion = defineRule({
  id: 'event-for-no-question',
  title: 'Event tracked for no question',
  why: 'What nobody asks for is built, stored, checked and explained all the same.',
  severity: 'note',
  message: (p: { readonly name: string }) => `\`${p.name}\` is tracked for no question. Ask one, retire it, or write down why it is kept.`,
  *check(plan: Plan): Iterable<RuleHit<{ readonly name: string }>> {
    for (const { id, kept } of eventsForNoQuestion(plan))
      if (!kept) yield { path: ['event', id, 'keepReason'], params: { name: plan.event[id]!.name } };
  },
});
