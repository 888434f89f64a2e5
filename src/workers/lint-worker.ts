/** The rules, off the page's thread. It holds a plan, follows it by edits, and answers with what changed in the findings. */
import { expose } from 'comlink';
import { applyEdits, type Edit } from '../core/plan/edit';
import type { Plan } from '../core/plan/plan';
import { deltaOf, type FindingDelta } from '../core/lint/delta';
import { lintPlan, withoutFix, type ShownFinding } from '../core/lint/lint';

let plan: Plan | undefined;
let found: readonly ShownFinding[] = [];

const lint = (next: Plan): FindingDelta => {
  plan = next;
  const now = lintPlan(next).map(withoutFix);
  const delta = deltaOf(found, now);
  found = now;
  return delta;
};

const api = {
  /** Takes a whole plan; all findings. */
  reset(next: Plan): readonly ShownFinding[] {
    lint(next);
    return found;
  },
  /** Follows edits; `undefined` when they do not fit, and a whole plan is wanted. */
  follow(edits: readonly Edit[]): FindingDelta | undefined {
    const r = plan && applyEdits(plan, edits);
    return r?.ok ? lint(r.plan) : undefined;
  },
};

export type LintWorker = typeof api;

expose(api);
