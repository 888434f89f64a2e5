/** Who fixes a finding, by name where the plan has one. */
import { type Plan } from '../plan/plan';
import { eventNamed } from '../plan/plan-index';
import type { FindingGroup } from './finding-group';

/** The owner of the source, or of the event where the plan is what is to be changed; in words where nobody is named. */
export const whoFixes = (plan: Plan, g: Pick<FindingGroup, 'fixer' | 'sourceId' | 'eventName'>): string =>
  g.fixer === 'plan'
    ? `${(g.eventName === '' ? undefined : eventNamed(plan, g.eventName)?.[1].owner) || 'whoever keeps the plan'}, in the plan`
    : plan.source[g.sourceId]?.owner || 'the owner of the source';
