import type { Plan } from '../../plan/plan';
import { eventsForNoQuestion } from '../../questions/economy';
import { defineRule, type RuleHit } from '../rule';

export const eventForNoQuestion = defineRule({
  id: 'event-for-no-question',
  title: 'Event without a question',
  why: 'What nobody asks for still has to be built, stored, checked and explained.',
  example: { wrong: '`Menu Opened`, which no question needs', right: '`Menu Opened`, kept “for the redesign in May”' },
  severity: 'note',
  message: (p: { readonly name: string }) => `\`${p.name}\` is without a question. Ask one, retire it, or write down why it is kept.`,
  *check(plan: Plan): Iterable<RuleHit<{ readonly name: string }>> {
    for (const { id, kept } of eventsForNoQuestion(plan))
      if (!kept) yield { path: ['event', id, 'keepReason'], params: { name: plan.event[id]!.name } };
  },
});
