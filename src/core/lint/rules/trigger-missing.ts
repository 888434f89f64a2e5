import type { Plan } from '../../plan/plan';
import { liveEvents } from '../live';
import { defineRule, type RuleHit } from '../rule';

export const triggerMissing = defineRule({
  id: 'trigger-missing',
  title: 'Trigger missing',
  why: 'Without the exact moment in words, each source fires the event at another one.',
  example: { wrong: '`Loan Started` with an empty trigger', right: '`Loan Started`: “The loan is stored.”' },
  severity: 'caution',
  message: (p: { readonly name: string }) => `\`${p.name}\` does not say when it fires.`,
  *check(plan: Plan): Iterable<RuleHit<{ readonly name: string }>> {
    for (const [id, e] of liveEvents(plan)) if (e.trigger.trim() === '') yield { path: ['event', id, 'trigger'], params: { name: e.name } };
  },
});
