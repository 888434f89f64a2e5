import { entries, type Plan } from '../../plan/plan';
import { defineRule, type RuleHit } from '../rule';

export const questionWithoutFormula = defineRule({
  id: 'question-without-formula',
  title: 'Question without a formula',
  why: 'As long as it is words alone, nobody can say what it needs.',
  example: { wrong: '“Do members come back?” as text alone', right: 'the same, with the formula retention' },
  severity: 'note',
  message: (p: { readonly text: string }) => `“${p.text}” has no formula yet.`,
  *check(plan: Plan): Iterable<RuleHit<{ readonly text: string }>> {
    for (const [id, q] of entries(plan, 'question')) if (!q.formula) yield { path: ['question', id, 'formula'], params: { text: q.text } };
  },
});
