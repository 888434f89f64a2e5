import { setField } from '../../plan/edit';
import { entries, type Plan } from '../../plan/plan';
import { openPart } from '../../questions/coverage';
import { typedFormula } from '../../questions/typed-conditions';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly text: string;
}

export const conditionOfAnotherType = defineRule({
  id: 'condition-of-another-type',
  title: 'Condition of another type',
  why: 'It was written before the property had its type. It is counted by the type of now; the question had better say so.',
  example: { wrong: '`deposit` is “20”, as text', right: '`deposit` is 20, as a number' },
  severity: 'note',
  message: (p: Params) => `“${p.text}” has a value in another type than its property.`,
  fix: () => 'Write the value in the type of the property',
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    for (const [id, q] of entries(plan, 'question')) {
      if (!q.formula || openPart(q.formula) !== undefined) continue;
      const { formula, problems } = typedFormula(plan, q.formula);
      if (formula === q.formula || problems.length > 0) continue;
      const edit = setField(plan, 'question', id, 'formula', formula);
      yield { path: ['question', id, 'formula'], params: { text: q.text }, ...(edit ? { fix: [edit] } : {}) };
    }
  },
});
