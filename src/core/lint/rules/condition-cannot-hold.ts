import { entries, type Plan } from '../../plan/plan';
import { openPart } from '../../questions/coverage';
import { typedFormula } from '../../questions/typed-conditions';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly text: string;
  readonly problem: string;
}

export const conditionCannotHold = defineRule({
  id: 'condition-cannot-hold',
  title: 'Condition that cannot hold',
  why: 'A figure over a condition that no message can fulfil is 0, and looks like an answer.',
  example: { wrong: '`deposit` more than 900, where its range ends at 500', right: '`deposit` more than 300' },
  severity: 'stop',
  message: (p: Params) => `“${p.text}” asks for what cannot be: ${p.problem}`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    for (const [id, q] of entries(plan, 'question')) {
      if (!q.formula || openPart(q.formula) !== undefined) continue;
      for (const problem of typedFormula(plan, q.formula).problems)
        yield { path: ['question', id, 'formula'], params: { text: q.text, problem } };
    }
  },
});
