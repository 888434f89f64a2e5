/** Definitions as events of the plan: so that whatever asks a plan about an event by its name is answered about a defined one too. */
import { blank } from '../plan/defaults';
import {
  entries,
  type EventProperty,
  type Id,
  type Plan,
  type PlanDefinition,
  type PlanEvent,
  type Property,
  type PropertyType,
} from '../plan/plan';
import { eventNamed, plannedPropertiesOf } from '../plan/plan-index';
import { isInside, named, pathOf, refKey, refOf, refOfProperty, sameRef, type PropertyRef } from '../plan/property-path';
import type { Change, Operand } from './definition';
import { comesFrom, type ComesFrom } from './defined-values';
import { conditionsIn } from './named';
import { withoutCircles } from './order';

/** What every raw interaction carries. */
export const INTERACTION_PROPERTIES: readonly (readonly [PropertyRef, string])[] = [
  [['element', 'text'], 'What the element said.'],
  [['element', 'role'], 'What the element is: a button, a link, a field.'],
  [['element', 'place'], 'Where the element is: an attribute of its own, else its role and text, else its path.'],
];

const typeOfValue = (v: Operand): PropertyType =>
  typeof v === 'boolean' ? 'boolean' : typeof v === 'string' ? 'string' : Number.isInteger(v) ? 'integer' : 'number';

type Carried = Pick<EventProperty, 'propertyId'> & { readonly property: Property };

const changed = (carried: readonly Carried[], changes: readonly Change[], idOf: (ref: PropertyRef) => Id): Carried[] => {
  let out = [...carried];
  for (const c of changes) {
    const to = c.what === 'rename' ? refOf([...pathOf(c.name).slice(0, -1), c.to]) : c.name;
    const moved = c.what === 'rename' ? out.filter((p) => isInside(refOfProperty(p.property), c.name)) : [];
    const isWritten = c.what === 'set' || moved.length > 0;
    out = out.filter((p) => {
      const ref = refOfProperty(p.property);
      return !(isInside(ref, c.name) || (isWritten && isInside(ref, to)));
    });
    for (const p of moved) {
      const ref = refOf([...pathOf(to), ...pathOf(refOfProperty(p.property)).slice(pathOf(c.name).length)]);
      out.push({ propertyId: idOf(ref), property: { ...p.property, ...named(ref), within: named(ref).within ?? [] } });
    }
    if (c.what === 'set')
      out.push({
        propertyId: idOf(c.name),
        property: blank('property', {
          ...named(c.name),
          type: typeOfValue(c.value),
          allowed: [String(c.value)],
          samples: [String(c.value)],
        }),
      });
  }
  return out;
};

const ID = 'definition:';

const made = (plan: Plan): Plan => {
  const held = entries(plan, 'definition').filter(([, d]) => !d.retired && d.name !== '');
  const idOf = new Map(held.map(([id, d]) => [d, id] as const));
  const event: Record<Id, PlanEvent> = { ...plan.event };
  const property: Record<Id, Property> = { ...plan.property };
  const byName = new Map<string, readonly Carried[]>();
  for (const d of withoutCircles(held.map(([, d]) => d))) {
    const id = `${ID}${idOf.get(d)!}`;
    const carried = new Map<Id, Carried>();
    if (d.source.of === 'interactions')
      for (const [ref, description] of INTERACTION_PROPERTIES) {
        const propertyId = `${ID}${refKey(ref)}`;
        carried.set(propertyId, { propertyId, property: blank('property', { ...named(ref), description }) });
      }
    if (d.source.of === 'events')
      for (const name of d.source.names) {
        const found = name === d.name ? undefined : byName.get(name);
        const planned = eventNamed(plan, name);
        const own =
          found ?? (planned ? plannedPropertiesOf(plan, planned[0]).map((p) => ({ propertyId: p.id, property: p.property })) : []);
        // Of two sources that carry the same path, the first says what it is.
        for (const p of own)
          if (![...carried.values()].some((x) => sameRef(refOfProperty(x.property), refOfProperty(p.property))))
            carried.set(p.propertyId, p);
      }
    const own = changed([...carried.values()], d.changes, (ref) => `${id} ${refKey(ref)}`);
    byName.set(d.name, own);
    // A definition that unites messages under a planned name is that event.
    if (eventNamed(plan, d.name)) continue;
    for (const p of own) property[p.propertyId] ??= p.property;
    event[id] = blank('event', {
      name: d.name,
      description: d.description,
      owner: d.owner,
      conversion: d.conversion,
      keepReason: d.keepReason,
      order: Number.MAX_SAFE_INTEGER,
      properties: own.map((p) => ({ propertyId: p.propertyId, required: false })),
    });
  }
  return { ...plan, event, property };
};

const known = new WeakMap<Plan, Plan>();

/** The plan with its definitions among its events; the plan itself where it has none. Not to be edited: what is defined has no sources and no
 *  place in the ledger.
 */
export const withDefinedEvents = (plan: Plan): Plan => {
  if (Object.keys(plan.definition ?? {}).length === 0) return plan;
  let own = known.get(plan);
  if (!own) {
    own = made(plan);
    known.set(plan, own);
    known.set(own, own);
  }
  return own;
};

/** The definition of this name that holds. */
export const definitionNamed = (plan: Plan, name: string): readonly [Id, PlanDefinition] | undefined =>
  entries(plan, 'definition').find(([, d]) => d.name === name && !d.retired);

/** What is read of a message where something is read of a defined event. */
export interface RawNeed {
  readonly eventName: string;
  readonly properties: readonly PropertyRef[];
}

const pathsIn = (from: ComesFrom): PropertyRef[] =>
  from.what === 'path'
    ? [from.path]
    : from.what === 'either'
      ? [...pathsIn(from.has), ...pathsIn(from.then), ...pathsIn(from.otherwise)]
      : from.what === 'value'
        ? pathsIn(from.around)
        : [];

/** The events that arrive under their own name, down to which an event goes, each with the paths that are read of its messages.
 *  Shape: itself for one that is not defined; none for interactions and views. Of events in a circle none.
 */
export const rawNeeds = (
  plan: Plan,
  eventName: string,
  properties: readonly PropertyRef[] = [],
  way: readonly string[] = [],
): RawNeed[] => {
  const d = definitionNamed(plan, eventName)?.[1];
  if (!d || way.at(-1) === eventName) return [{ eventName, properties }];
  if (way.includes(eventName) || d.source.of !== 'events') return [];
  const read = [
    ...properties.flatMap((ref) => pathsIn(comesFrom(ref, d.changes))),
    ...conditionsIn(d.where).flatMap((c) => (c.subject.of === 'property' ? [c.subject.name] : [])),
  ];
  return d.source.names.flatMap((n) => rawNeeds(plan, n, read, [...way, eventName]));
};
