import type { Plan } from '../../plan/plan';
import { propertiesForNoQuestion } from '../../questions/economy';
import { defineRule, type RuleHit } from '../rule';
import { refOfProperty, refText } from '../../plan/property-path';

export const propertyForNoQuestion = defineRule({
  id: 'property-for-no-question',
  title: 'Property without a question',
  why: 'A property costs work on every source that sends it, and is one more that can be wrong.',
  example: { wrong: '`button_colour`, which no question needs', right: '`button_colour`, kept “for the test in June”' },
  severity: 'note',
  message: (p: { readonly name: string }) => `\`${p.name}\` is without a question. Ask one, retire it, or write down why it is kept.`,
  *check(plan: Plan): Iterable<RuleHit<{ readonly name: string }>> {
    for (const { id, kept } of propertiesForNoQuestion(plan))
      if (!kept) yield { path: ['property', id, 'keepReason'], params: { name: refText(refOfProperty(plan.property[id]!)) } };
  },
});
