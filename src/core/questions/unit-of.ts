/** The unit that a figure is in. */
import { plannedAt, propertiesOf, type Plan } from '../plan/plan';
import { eventNamed } from '../plan/plan-index';
import type { Formula } from './formula';

/** The unit of the property that a formula adds up; empty for other formulas, and where the plan gives none. */
export const unitOf = (plan: Plan, f: Formula | null): string => {
  if (f?.type !== 'total of a property') return '';
  const event = eventNamed(plan, f.event.eventName)?.[1];
  return event ? (plannedAt(propertiesOf(plan, event), f.property)?.property.unit ?? '') : '';
};
