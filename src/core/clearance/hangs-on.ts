/** What of a plan a question's figure hangs on: definitions, the events that they are made of, the properties that are used of them, user properties. */
import { definitionNamed, rawNeeds } from '../definitions/planned';
import { entries, plannedAt, type Id, type Plan } from '../plan/plan';
import { eventNamed, plannedPropertiesOf } from '../plan/plan-index';
import { refOfProperty, refText, sameRef } from '../plan/property-path';
import { userPropertiesOf, type Need } from '../questions/coverage';
import type { Formula } from '../questions/formula';

export interface Part {
  readonly kind: 'definition' | 'event' | 'property' | 'userProperty';
  readonly id: Id;
  /** Its name, or its path. */
  readonly name: string;
  readonly body: object;
}

/** In the order of the formula; what the plan lacks is no part. */
export const hangsOn = (plan: Plan, f: Formula, needs: readonly Need[]): Part[] => {
  const out: Part[] = [];
  for (const need of needs) {
    const definition = definitionNamed(plan, need.eventName);
    if (definition) out.push({ kind: 'definition', id: definition[0], name: need.eventName, body: definition[1] });
    const used = need.properties.map((p) => p.name);
    for (const raw of rawNeeds(plan, need.eventName, used)) {
      const event = eventNamed(plan, raw.eventName);
      if (!event) continue;
      out.push({ kind: 'event', id: event[0], name: raw.eventName, body: event[1] });
      const planned = plannedPropertiesOf(plan, event[0]);
      for (const ref of raw.properties) {
        const property = plannedAt(planned, ref)?.property;
        const id = planned.find((p) => p.property === property)?.id;
        if (property && id !== undefined) out.push({ kind: 'property', id, name: refText(ref), body: property });
      }
    }
  }
  for (const ref of userPropertiesOf(f)) {
    const found = entries(plan, 'userProperty').find(([, u]) => sameRef(refOfProperty(u), ref));
    if (found) out.push({ kind: 'userProperty', id: found[0], name: refText(ref), body: found[1] });
  }
  return out;
};
