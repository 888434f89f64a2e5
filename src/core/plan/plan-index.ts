/** Look-ups over a plan, built once for each state of it: a plan never changes, so an index never goes stale. */
import { entries, propertiesOf, type Id, type Plan, type PlanEvent, type PlannedProperty } from './plan';
import { PathMap, refOfProperty, refText, type PropertyRef } from './property-path';

export interface PlanIndex {
  /** Present names; of twins the first. */
  readonly eventByName: ReadonlyMap<string, Id>;
  readonly eventByFormerName: ReadonlyMap<string, Id>;
  readonly propertyAt: Pick<PathMap<Id>, 'get' | 'has'>;
  /** By the path as it is shown; a name that is alone goes before a path that is shown alike. */
  readonly propertyByText: ReadonlyMap<string, Id>;
  /** Event → its properties, shared sets included. */
  readonly propertiesOf: ReadonlyMap<Id, readonly PlannedProperty[]>;
  /** Property → the events that carry it. */
  readonly carriers: ReadonlyMap<Id, readonly Id[]>;
}

const indexes = new WeakMap<Plan, PlanIndex>();
/** Shared between states of the plan: an event's properties change only with the event, the properties or the sets. */
const planned = new WeakMap<PlanEvent, { properties: unknown; sets: unknown; value: PlannedProperty[] }>();

const propertiesKept = (plan: Plan, e: PlanEvent): PlannedProperty[] => {
  const known = planned.get(e);
  if (known && known.properties === plan.property && known.sets === plan.sharedSet) return known.value;
  const value = propertiesOf(plan, e);
  planned.set(e, { properties: plan.property, sets: plan.sharedSet, value });
  return value;
};

export const indexOf = (plan: Plan): PlanIndex => {
  const known = indexes.get(plan);
  if (known) return known;
  const eventByName = new Map<string, Id>();
  const eventByFormerName = new Map<string, Id>();
  const propertyAt = new PathMap<Id>();
  const properties = new Map<Id, PlannedProperty[]>();
  const carriers = new Map<Id, Id[]>();
  for (const [id, p] of entries(plan, 'property')) propertyAt.add(refOfProperty(p), id);
  const propertyByText = new Map<string, Id>();
  for (const [ref, id] of [...propertyAt].reverse()) if (typeof ref !== 'string') propertyByText.set(refText(ref), id);
  for (const [ref, id] of propertyAt) if (typeof ref === 'string') propertyByText.set(ref, id);
  for (const [id, e] of entries(plan, 'event')) {
    if (!eventByName.has(e.name)) eventByName.set(e.name, id);
    for (const n of e.formerNames) if (!eventByFormerName.has(n)) eventByFormerName.set(n, id);
    const own = propertiesKept(plan, e);
    properties.set(id, own);
    for (const p of own) {
      const list = carriers.get(p.id);
      if (list) list.push(id);
      else carriers.set(p.id, [id]);
    }
  }
  const index: PlanIndex = { eventByName, eventByFormerName, propertyAt, propertyByText, propertiesOf: properties, carriers };
  indexes.set(plan, index);
  return index;
};

/** The event of this name, by its present name, then by a former one. */
export const eventNamed = (plan: Plan, name: string): [Id, PlanEvent] | undefined => {
  const index = indexOf(plan);
  const id = index.eventByName.get(name) ?? index.eventByFormerName.get(name);
  return id === undefined ? undefined : [id, plan.event[id]!];
};

export const plannedPropertiesOf = (plan: Plan, eventId: Id): readonly PlannedProperty[] => indexOf(plan).propertiesOf.get(eventId) ?? [];

/** The path that a text means: that of the planned property that is shown so, else the text as a name. */
export const refNamed = (plan: Plan, text: string, of: 'property' | 'user property' = 'property'): PropertyRef => {
  if (of === 'user property')
    return (
      entries(plan, 'userProperty')
        .map(([, u]) => refOfProperty(u))
        .find((ref) => refText(ref) === text) ?? text
    );
  const id = indexOf(plan).propertyByText.get(text);
  return id === undefined ? text : refOfProperty(plan.property[id]!);
};

/** The events that carry a property. */
export const carriersOf = (plan: Plan, propertyId: Id): readonly Id[] => indexOf(plan).carriers.get(propertyId) ?? [];
