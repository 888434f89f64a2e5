/** Suggestions: a property that other events on the same object carry, and this one lacks. */
import type { Edit } from './edit';
import { entries, isLive, type Id, type Plan, type PlanEvent, type Property } from './plan';
import { plannedPropertiesOf } from './plan-index';

export interface ObjectSuggestions {
  readonly object: string;
  readonly events: readonly Id[];
  readonly properties: readonly Id[];
  /** Event → the properties that it carries. */
  readonly carries: ReadonlyMap<Id, ReadonlySet<Id>>;
  /** Event → the properties that it lacks; events that lack nothing are left out. */
  readonly lacking: ReadonlyMap<Id, readonly Id[]>;
}

const answers = new WeakMap<Plan, ObjectSuggestions[]>();

/** The last answer for each object, and what it was worked out from: an edit touches the events of one object at most. */
interface Known {
  readonly ids: readonly Id[];
  readonly events: readonly PlanEvent[];
  /** What these events carry. */
  readonly carried: ReadonlyMap<Id, Property>;
  readonly sharedSet: Plan['sharedSet'];
  readonly value: ObjectSuggestions | undefined;
}
let last = new Map<string, Known>();

const groupOf = (plan: Plan, object: string, ids: readonly Id[]): Pick<Known, 'value' | 'carried'> => {
  const events = [...ids].sort((a, b) => plan.event[a]!.order - plan.event[b]!.order);
  const carries = new Map(events.map((e) => [e, new Set(plannedPropertiesOf(plan, e).map((p) => p.id))]));
  const carried = new Map(events.flatMap((e) => [...carries.get(e)!].map((p) => [p, plan.property[p]!] as const)));
  const properties = [...carried.keys()].filter((p) => !carried.get(p)!.retired);
  const lacking = new Map<Id, Id[]>();
  for (const e of events) {
    const lacks = properties.filter((p) => !carries.get(e)!.has(p));
    if (lacks.length > 0) lacking.set(e, lacks);
  }
  return { carried, value: lacking.size > 0 ? { object, events, properties, carries, lacking } : undefined };
};

const sameCarried = (plan: Plan, carried: ReadonlyMap<Id, Property>): boolean => {
  for (const [id, p] of carried) if (plan.property[id] !== p) return false;
  return true;
};

/** Objects whose events differ in what they carry, with the matrix of events against properties.
 *  Shape: objects in alphabetical order, with at least two live events; properties in the order of the events. A property that
 *  describes another object than the event's own is suggested all the same: what matters is that a sibling carries it. An object that
 *  nothing was changed about keeps its answer's identity.
 */
export const suggestionsOf = (plan: Plan): ObjectSuggestions[] => {
  const known = answers.get(plan);
  if (known) return known;
  const byObject = new Map<string, Id[]>();
  for (const [id, e] of entries(plan, 'event'))
    if (isLive(e) && e.object.trim() !== '') {
      const list = byObject.get(e.object);
      if (list) list.push(id);
      else byObject.set(e.object, [id]);
    }
  const out: ObjectSuggestions[] = [];
  const next = new Map<string, Known>();
  for (const [object, ids] of [...byObject].sort(([a], [b]) => (a < b ? -1 : 1))) {
    if (ids.length < 2) continue;
    const events = ids.map((id) => plan.event[id]!);
    const before = last.get(object);
    const stands =
      before?.sharedSet === plan.sharedSet &&
      before.events.length === events.length &&
      before.events.every((e, i) => e === events[i] && before.ids[i] === ids[i]) &&
      sameCarried(plan, before.carried);
    const now = stands ? before : { ids, events, sharedSet: plan.sharedSet, ...groupOf(plan, object, ids) };
    next.set(object, now);
    if (now.value) out.push(now.value);
  }
  last = next;
  answers.set(plan, out);
  return out;
};

/** The edits that accept suggestions: one for each event, with all that it is to carry from now on. */
export const acceptSuggestions = (plan: Plan, accepted: readonly (readonly [Id, readonly Id[]])[]): Edit[] =>
  accepted.flatMap(([id, properties]): Edit[] => {
    const event = plan.event[id];
    if (!event || properties.length === 0) return [];
    const has = new Set(plannedPropertiesOf(plan, id).map((p) => p.id));
    const added = properties.filter((p) => !has.has(p)).map((propertyId) => ({ propertyId, required: true }));
    return added.length === 0
      ? []
      : [{ op: 'set', kind: 'event', id, field: 'properties', before: event.properties, after: [...event.properties, ...added] }];
  });

/** The edits that put properties common to all events of an object into a shared set, so that they stay together afterwards. */
export const shareSuggestions = (plan: Plan, s: ObjectSuggestions, setId: Id): Edit[] => {
  const create: Edit = {
    op: 'create',
    kind: 'sharedSet',
    id: setId,
    body: {
      name: s.object,
      description: `Everything that events on ${s.object} carry.`,
      properties: s.properties.map((propertyId) => ({ propertyId, required: true })),
    },
  };
  const sets = s.events.flatMap((id): Edit[] => {
    const e = plan.event[id]!;
    const kept = e.properties.filter((p) => !s.properties.includes(p.propertyId));
    return [
      { op: 'set', kind: 'event', id, field: 'sharedSets', before: e.sharedSets, after: [...e.sharedSets, setId] },
      ...(kept.length < e.properties.length
        ? [{ op: 'set', kind: 'event', id, field: 'properties', before: e.properties, after: kept } as const]
        : []),
    ];
  });
  return [create, ...sets];
};
