import { entries, type Plan } from '../../plan/plan';
import { openPart } from '../../questions/coverage';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly text: string;
  readonly reason: string;
}

export const questionTermUndefined = defineRule({
  id: 'question-term-undefined',
  title: 'Term of a question left open',
  why: 'Two readers fill the gap in two ways and compare the results.',
  example: { wrong: '“Active borrowers”, with no event chosen for “active”', right: '“Active borrowers” are persons with `Loan Started`' },
  severity: 'note',
  message: (p: Params) => `“${p.text}” is not defined yet: ${p.reason}.`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    for (const [id, q] of entries(plan, 'question')) {
      if (!q.formula) continue;
      const reason = openPart(q.formula);
      if (reason !== undefined) yield { path: ['question', id, 'formula'], params: { text: q.text, reason } };
    }
  },
});
