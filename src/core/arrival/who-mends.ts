/** Who mends a finding, by name where the plan has one. */
import { findEvent, type Plan } from '../plan/plan';
import type { FindingGroup } from './finding-group';

/** The owner of the source, or of the event where the plan is what is to be changed; in words where nobody is named. */
export const whoMends = (plan: Plan, g: Pick<FindingGroup, 'mender' | 'sourceId' | 'eventName'>): string =>
  g.mender === 'plan'
    ? `${(g.eventName === '' ? undefined : findEvent(plan, g.eventName)?.[1].owner) || 'whoever keeps the plan'}, in the plan`
    : plan.source[g.sourceId]?.owner || 'the owner of the source';
