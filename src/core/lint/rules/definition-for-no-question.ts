import { isMadeOf } from '../../definitions/named';
import type { Plan } from '../../plan/plan';
import { questionsServedBy } from '../../questions/coverage';
import { liveDefinitions } from '../live';
import { defineRule, type RuleHit } from '../rule';

export const definitionForNoQuestion = defineRule({
  id: 'definition-for-no-question',
  title: 'Definition without a question',
  why: 'What nobody asks for still has to be kept when pages change.',
  example: { wrong: '`Photos Opened`, which no question needs', right: '`Photos Opened`, kept “for the new pages in May”' },
  severity: 'note',
  message: (p: { readonly name: string }) => `\`${p.name}\` is without a question. Ask one, retire it, or write down why it is kept.`,
  *check(plan: Plan): Iterable<RuleHit<{ readonly name: string }>> {
    const live = liveDefinitions(plan);
    for (const [id, d] of live) {
      const serves = questionsServedBy(plan, d.name).length > 0 || live.some(([other, x]) => other !== id && isMadeOf(x, d.name));
      if (d.name !== '' && !serves && d.keepReason === '') yield { path: ['definition', id, 'keepReason'], params: { name: d.name } };
    }
  },
});
