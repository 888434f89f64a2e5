/** The unit that a figure is in. */
import { withDefinedEvents } from '../definitions/planned';
import { plannedAt, propertiesOf, settingsOf, type Plan } from '../plan/plan';
import { eventNamed } from '../plan/plan-index';
import { UNITS } from '../plan/unit';
import type { Formula } from './formula';

/** The unit of the property that a formula adds up; empty for other formulas, and where the plan gives none.
 *  Shape: money names its currency, `minor units of EUR`: the workspace's where no property beside says it; else each message is in its own.
 */
export const unitOf = (given: Plan, f: Formula | null): string => {
  if (f?.type !== 'total of a property') return '';
  // A definition has the properties that it copies.
  const plan = withDefinedEvents(given);
  const event = eventNamed(plan, f.event.eventName)?.[1];
  if (!event) return '';
  const planned = propertiesOf(plan, event);
  const unit = plannedAt(planned, f.property)?.property.unit ?? '';
  if (UNITS.get(unit)?.dimension !== 'money') return unit;
  return planned.some((p) => p.property.format === 'currency' && !p.property.retired)
    ? `${unit}, each in its own currency`
    : `${unit} of ${settingsOf(plan).currency}`;
};
