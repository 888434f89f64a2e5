/** The demo’s plan, as version 1 has it. */
import { DEFAULT_SETTINGS } from '../../src/core/plan/defaults';
import { applyEdits } from '../../src/core/plan/edit';
import { emptyPlan, type Plan } from '../../src/core/plan/plan';
import { publishedEdits } from '../../src/demo/plan';

export const demoPlan = (): Plan => {
  const r = applyEdits({ ...emptyPlan(DEFAULT_SETTINGS), settings: {} }, publishedEdits);
  if (!r.ok) throw new Error(JSON.stringify(r.problem));
  return r.plan;
};
