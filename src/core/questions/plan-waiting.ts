/** What the plan leaves open at the first and the fourth station, counted. */
import { heldBackBy } from '../formats/ticket';
import { entries, type Id, type Plan } from '../plan/plan';
import { plannedPropertiesOf } from '../plan/plan-index';
import { coverageOf } from './coverage';

export interface PlanWaiting {
  readonly questions: number;
  /** Questions whose formula is not complete. */
  readonly undefined: number;
  /** Questions that lack something in the plan. */
  readonly incomplete: number;
  readonly events: number;
  /** Events that cannot be handed to a developer yet. */
  readonly heldBack: number;
}

/** Shape: `stopped` are events that a rule of the plan stops. */
export const planWaiting = (plan: Plan, stopped: { has(id: Id): boolean } = new Set<Id>()): PlanWaiting => {
  const states = entries(plan, 'question').map(([, q]) => coverageOf(plan, q).state);
  const events = entries(plan, 'event');
  return {
    questions: states.length,
    undefined: states.filter((s) => s === 'undefined').length,
    incomplete: states.filter((s) => s === 'partly').length,
    events: events.length,
    heldBack: events.filter(([id, e]) => stopped.has(id) || heldBackBy(plan, e, plannedPropertiesOf(plan, id)).length > 0).length,
  };
};
