import { coverageOf, lackText, type Coverage } from '../../questions/coverage';
import { entries, type Plan } from '../../plan/plan';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly text: string;
  readonly coverage: Coverage;
}

export const questionNotAnswerable = defineRule({
  id: 'question-not-answerable',
  title: 'Question that the plan cannot answer',
  why: 'What is not in the plan is not built, and the history for it cannot be had later.',
  severity: 'note',
  message: ({ text, coverage: c }: Params) =>
    c.state === 'undefined'
      ? `“${text}” has no complete formula yet: ${c.reason}.`
      : `“${text}” cannot be answered: ${c.state === 'partly' ? c.lacks.map(lackText).join('; ') : ''}.`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    for (const [id, q] of entries(plan, 'question')) {
      const coverage = coverageOf(plan, q);
      if (coverage.state !== 'answerable') yield { path: ['question', id, 'formula'], params: { text: q.text, coverage } };
    }
  },
});
