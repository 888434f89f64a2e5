/** The unit that a figure is in. */
import { withDefinedEvents } from '../definitions/planned';
import { plannedAt, propertiesOf, type Plan } from '../plan/plan';
import { eventNamed } from '../plan/plan-index';
import type { Formula } from './formula';

/** The unit of the property that a formula adds up; empty for other formulas, and where the plan gives none. */
export const unitOf = (given: Plan, f: Formula | null): string => {
  if (f?.type !== 'total of a property') return '';
  // A definition has the properties that it copies.
  const plan = withDefinedEvents(given);
  const event = eventNamed(plan, f.event.eventName)?.[1];
  return event ? (plannedAt(propertiesOf(plan, event), f.property)?.property.unit ?? '') : '';
};
