import { addLacks } from '../../questions/add-lacks';
import { coverageOf, lackText, type Lack } from '../../questions/coverage';
import { entries, KINDS, type Plan } from '../../plan/plan';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly text: string;
  readonly lacks: readonly Lack[];
}

/** Ids for what a fix adds: the same plan gives the same ones, and none that is taken. */
const freshIds = (plan: Plan, stem: string): (() => string) => {
  let n = 0;
  const taken = (id: string): boolean => KINDS.some((k) => Object.hasOwn(plan[k], id));
  return () => {
    do n++;
    while (taken(`${stem}-${n}`));
    return `${stem}-${n}`;
  };
};

export const questionNotAnswerable = defineRule({
  id: 'question-not-answerable',
  title: 'Question that the plan cannot answer',
  why: 'What is not in the plan is not built, and the history for it cannot be had later.',
  example: {
    wrong: '“How many loans by branch?”, where `Loan Started` has no `branch`',
    right: 'the same question, with `branch` on `Loan Started`',
  },
  severity: 'note',
  message: ({ text, lacks }: Params) => `“${text}” cannot be answered: ${lacks.map(lackText).join('; ')}.`,
  fix: ({ lacks }: Params) => `Add ${lacks.length === 1 ? 'it' : `these ${lacks.length}`} to the plan`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    for (const [id, q] of entries(plan, 'question')) {
      const coverage = coverageOf(plan, q);
      if (coverage.state !== 'partly') continue;
      const fix = addLacks(plan, coverage.lacks, freshIds(plan, `for-${id}`));
      yield { path: ['question', id, 'formula'], params: { text: q.text, lacks: coverage.lacks }, ...(fix.length > 0 ? { fix } : {}) };
    }
  },
});
