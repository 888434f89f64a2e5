/** A plan entry drafted from what was found. */
import { objectAction } from '../naming/object-action';
import { blank } from '../plan/defaults';
import type { Edit } from '../plan/edit';
import { entries, settingsOf, type EventProperty, type Id, type Plan } from '../plan/plan';
import { eventNamed } from '../plan/plan-index';
import type { EventProfile } from './profile';
import { isInside, named, refOfProperty, sameRef } from '../plan/property-path';

/** Edits that make the plan say what came: the event with its sources, and its properties with type, list and samples as found; for an
 *  event that is planned, the properties it lacks. A property of the plan with the same name is taken as it is.
 *  Shape: properties first, then the event; none where the plan says all of it. A property on every message is drafted as required.
 */
export const draftFromProfile = (plan: Plan, profile: EventProfile, newId: () => Id): Edit[] => {
  const edits: Edit[] = [];
  const properties: EventProperty[] = [];
  const crowded = profile.properties.filter((p) => p.mayLack);
  for (const p of profile.properties) {
    if (p.planned || p.messages === 0) continue;
    // Names without end, such as one for each ID, are no properties: of those the object alone is drafted.
    if (crowded.some((c) => c !== p && isInside(p.ref, c.ref))) continue;
    const known = entries(plan, 'property').find(([, x]) => sameRef(refOfProperty(x), p.ref) && !x.retired);
    const propertyId = known?.[0] ?? newId();
    if (!known) edits.push({ op: 'create', kind: 'property', id: propertyId, body: blank('property', { ...named(p.ref), ...p.inferred }) });
    properties.push({ propertyId, required: p.messages === profile.messages });
  }
  const existing = eventNamed(plan, profile.eventName);
  if (existing) {
    if (properties.length > 0)
      edits.push({
        op: 'set',
        kind: 'event',
        id: existing[0],
        field: 'properties',
        before: existing[1].properties,
        after: [...existing[1].properties, ...properties],
      });
    return edits;
  }
  const words = objectAction(profile.eventName, settingsOf(plan).naming);
  const last = entries(plan, 'event').reduce((n, [, e]) => Math.max(n, e.order), 0);
  edits.push({
    op: 'create',
    kind: 'event',
    id: newId(),
    body: blank('event', {
      name: profile.eventName,
      object: words?.object.join(' ') ?? '',
      action: words?.action.join(' ') ?? '',
      order: last + 1,
      sources: profile.sources
        .filter((s) => plan.source[s.value])
        .map((s) => ({ sourceId: s.value, required: true, build: 'seen' as const })),
      properties,
    }),
  });
  return edits;
};
