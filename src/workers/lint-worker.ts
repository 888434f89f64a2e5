/** The rules, off the page's thread. It holds a plan, follows it by edits, and answers with the findings. */
import { expose } from 'comlink';
import { applyEdits, type Edit } from '../core/plan/edit';
import type { Plan } from '../core/plan/plan';
import { lintPlan, type LintFinding } from '../core/lint/lint';

let plan: Plan | undefined;

const api = {
  /** Takes a whole plan. */
  reset(next: Plan): readonly LintFinding[] {
    plan = next;
    return lintPlan(plan);
  },
  /** Follows edits; `undefined` when they do not fit, and a whole plan is wanted. */
  follow(edits: readonly Edit[]): readonly LintFinding[] | undefined {
    const r = plan && applyEdits(plan, edits);
    if (!r?.ok) return undefined;
    plan = r.plan;
    return lintPlan(plan);
  },
};

export type LintWorker = typeof api;

expose(api);
