/** Renames: the name itself, the former name kept, and every reference by name moved along. */
import { stepsWithEvent, stepsWithProperty } from '../trial/renamed';
import { mapFormulaEvents, mapFormulaProperty } from '../questions/formula';
import { isMadeOf, propertyMoved, sourceRenamed } from '../definitions/named';
import type { Edit } from './edit';
import { applyEdits, setField } from './edit';
import { entries, type Id, type Plan, type Question } from './plan';
import { carriersOf } from './plan-index';
import {
  isInside,
  MAX_WITHIN,
  movedRef,
  pathOf,
  refKey,
  refOfProperty,
  refText,
  sameRef,
  type PropertyPath,
  type PropertyRef,
} from './property-path';

/** The edits that rename an event.
 *  Shape: the event's name first, then its former names (only when `keepFormer`), then questions and counterparts that
 *  named it. Empty when the name is already that.
 */
export const renameEvent = (plan: Plan, id: Id, name: string, keepFormer: boolean): Edit[] => {
  const event = plan.event[id];
  if (!event || event.name === name) return [];
  const old = event.name;
  const edits: (Edit | undefined)[] = [setField(plan, 'event', id, 'name', name)];
  if (keepFormer && old !== '') {
    const former = [...event.formerNames.filter((n) => n !== name), old];
    edits.push(setField(plan, 'event', id, 'formerNames', former));
  }
  if (old !== '') {
    edits.push(...eventNameMoved(plan, old, name));
    for (const [eid, e] of entries(plan, 'event')) {
      if (e.counterpart?.eventName === old) edits.push(setField(plan, 'event', eid, 'counterpart', { ...e.counterpart, eventName: name }));
    }
  }
  return edits.filter((e) => e !== undefined);
};

/** Questions, definitions and trials that name an event, moved along. */
const eventNameMoved = (plan: Plan, old: string, name: string): (Edit | undefined)[] => [
  ...entries(plan, 'question').map(([qid, q]) =>
    q.formula
      ? setField(
          plan,
          'question',
          qid,
          'formula',
          mapFormulaEvents(q.formula, (n) => (n === old ? name : n)),
        )
      : undefined,
  ),
  ...entries(plan, 'definition').map(([did, d]) => setField(plan, 'definition', did, 'source', sourceRenamed(d.source, old, name))),
  ...entries(plan, 'trial').map(([tid, t]) => setField(plan, 'trial', tid, 'steps', stepsWithEvent(t.steps, old, name))),
];

/** The edits that rename a definition, with the questions and definitions that name it. No message carries its name, so none is kept; one that
 *  unites messages under its own name goes on taking them.
 */
export const renameDefinition = (plan: Plan, id: Id, name: string): Edit[] => {
  const d = plan.definition[id];
  if (!d || d.name === name) return [];
  const others = d.name === '' ? [] : eventNameMoved({ ...plan, definition: without(plan.definition, id) }, d.name, name);
  return [setField(plan, 'definition', id, 'name', name), ...others].filter((e) => e !== undefined);
};

/** The edits by which everything that asks about one event, or is made of it, asks about another instead: questions and definitions, but for the other
 *  itself, which may be made of the first.
 */
export const replaceEvent = (plan: Plan, from: string, to: string): Edit[] =>
  from === to
    ? []
    : eventNameMoved(
        { ...plan, definition: Object.fromEntries(entries(plan, 'definition').filter(([, d]) => d.name !== to && d.name !== from)) },
        from,
        to,
      ).filter((e) => e !== undefined);

const without = (definitions: Plan['definition'], id: Id): Plan['definition'] =>
  Object.fromEntries(Object.entries(definitions).filter(([other]) => other !== id));

/** The edits that rename a property: its name, the former name kept (when `keepFormer`), and questions, counterparts and series of the
 *  events that carry it. Empty when the name is already that.
 */
export const renameProperty = (plan: Plan, id: Id, name: string, keepFormer: boolean): Edit[] => {
  const property = plan.property[id];
  if (!property || property.name === name) return [];
  const old = property.name;
  const edits: (Edit | undefined)[] = [setField(plan, 'property', id, 'name', name)];
  if (keepFormer && old !== '')
    edits.push(setField(plan, 'property', id, 'formerNames', [...property.formerNames.filter((n) => n !== name), old]));
  if (old !== '') edits.push(...referencesMoved(plan, id, refOfProperty(property), refOfProperty({ ...property, name })));
  return edits.filter((e) => e !== undefined);
};

/** The edits that put a property into other objects, named from the outside in; into none where the list is empty. What names it follows;
 *  messages that were sent before keep it where they have it.
 */
export const moveProperty = (plan: Plan, id: Id, within: readonly string[]): Edit[] | string => {
  const property = plan.property[id];
  if (!property) return 'This property no longer exists.';
  if (within.length > MAX_WITHIN) return `At most ${MAX_WITHIN} objects may enclose a property.`;
  if (within.some((n) => n.trim() === '')) return 'Each enclosing object needs a name.';
  const [from, to] = [refOfProperty(property), refOfProperty({ ...property, within })];
  if (sameRef(from, to)) return [];
  if (isInside(to, from) && property.type === 'object') return `\`${refText(from)}\` cannot be inside itself.`;
  return [setField(plan, 'property', id, 'within', within.length > 0 ? within : undefined), ...referencesMoved(plan, id, from, to)].filter(
    (e) => e !== undefined,
  );
};

/** What names a property by its path, or another one inside of it, moved along. */
const referencesMoved = (plan: Plan, id: Id, from: PropertyRef, to: PropertyRef): (Edit | undefined)[] => {
  const edits: (Edit | undefined)[] = [];
  // An event may carry what is inside of an object without the object itself.
  const carriers = new Set(carriersOf(plan, id));
  for (const [inner, p] of entries(plan, 'property')) {
    if (!p.within || !isInside(p.within, from)) continue;
    edits.push(setField(plan, 'property', inner, 'within', pathOf(movedRef(p.within, from, to))));
    for (const eid of carriersOf(plan, inner)) carriers.add(eid);
  }
  const names = new Set([...carriers].map((e) => plan.event[e]!.name));
  for (const [tid, t] of entries(plan, 'trial'))
    edits.push(setField(plan, 'trial', tid, 'steps', stepsWithProperty(t.steps, names, from, to)));
  for (const [qid, q] of entries(plan, 'question'))
    if (q.formula)
      edits.push(
        setField(
          plan,
          'question',
          qid,
          'formula',
          mapFormulaProperty(q.formula, (n) => names.has(n), from, to),
        ),
      );
  for (const [did, d] of entries(plan, 'definition'))
    if ([...names].some((n) => isMadeOf(d, n))) {
      const moved = propertyMoved(d, from, to);
      edits.push(setField(plan, 'definition', did, 'where', moved.where), setField(plan, 'definition', did, 'changes', moved.changes));
    }
  for (const eid of carriers) {
    const e = plan.event[eid]!;
    if (e.counterpart)
      edits.push(
        setField(plan, 'event', eid, 'counterpart', { ...e.counterpart, keyProperty: movedRef(e.counterpart.keyProperty, from, to) }),
      );
    if (e.series) edits.push(setField(plan, 'event', eid, 'series', { ...e.series, property: movedRef(e.series.property, from, to) }));
  }
  return edits;
};

/** The edits that rename an entity as a fix of its name, with the former name kept; `undefined` where the name is another one's already,
 *  present or former: two entities of one name would split what belongs to either.
 */
export const renameFix = (
  plan: Plan,
  kind: 'event' | 'property' | 'userProperty' | 'definition',
  id: Id,
  name: string,
): Edit[] | undefined => {
  type Named = { readonly name: string; readonly formerNames?: readonly string[]; readonly within?: PropertyPath };
  const place = (plan[kind][id] as Named | undefined)?.within ?? [];
  const isTaken = entries(plan, kind).some(
    ([other, b]: [Id, Named]) =>
      other !== id && sameRef(b.within ?? [], place) && (b.name === name || (b.formerNames ?? []).includes(name)),
  );
  if (isTaken) return undefined;
  const edits =
    kind === 'event'
      ? renameEvent(plan, id, name, true)
      : kind === 'property'
        ? renameProperty(plan, id, name, true)
        : kind === 'definition'
          ? renameDefinition(plan, id, name)
          : renameUserProperty(plan, id, name, () => `${id}-${name}`);
  return edits.length > 0 ? edits : undefined;
};

/** As a part of a finding: the fix where there is one. */
export const withRenameFix = (...rename: Parameters<typeof renameFix>): { readonly fix?: readonly Edit[] } => {
  const fix = renameFix(...rename);
  return fix ? { fix } : {};
};

/** The edits that rename a user property. One that is registered is locked: a new one comes beside it, and the old one is retired. */
export const renameUserProperty = (plan: Plan, id: Id, name: string, newId: () => Id): Edit[] => {
  const u = plan.userProperty[id];
  if (!u || u.name === name) return [];
  if (!u.registered) return [setField(plan, 'userProperty', id, 'name', name)].filter((e) => e !== undefined);
  const { registeredAt: _, ...rest } = u;
  return [
    {
      op: 'create',
      kind: 'userProperty',
      id: newId(),
      body: { ...rest, name, registered: false, formerNames: [...u.formerNames, u.name] },
    },
    ...[setField(plan, 'userProperty', id, 'retired', true)].filter((e) => e !== undefined),
  ];
};

/** A plan in which every event, property and definition that another plan has, too, is named as there, with all that names it moved along; nothing else is
 *  changed. Entities are the same by their ID.
 */
export const namedAs = (plan: Plan, as: Plan): Plan => {
  let current = plan;
  const make = (edits: readonly Edit[]): void => {
    const r = applyEdits(current, edits);
    if (r.ok) current = r.plan;
  };
  const others = <K extends 'event' | 'property' | 'definition'>(kind: K): [Id, string][] =>
    entries(plan, kind).flatMap(([id, b]): [Id, string][] => {
      const name = as[kind][id]?.name;
      return name === undefined || name === '' || name === b.name ? [] : [[id, name]];
    });
  const rename = {
    event: (id: Id, name: string) => renameEvent(current, id, name, false),
    property: (id: Id, name: string) => renameProperty(current, id, name, false),
    definition: (id: Id, name: string) => renameDefinition(current, id, name),
  };
  for (const kind of ['event', 'property', 'definition'] as const) {
    const list = others(kind);
    // By way of names that nothing has: two may have changed places.
    for (const [id] of list) make(rename[kind](id, `\u0000${id}`));
    for (const [id, name] of list) make(rename[kind](id, name));
  }
  return current;
};

const presentKnown = new WeakMap<Plan, Plan>();

/** A plan in which questions, definitions, trials, counterparts and series say the present names of events and properties where they were written with a
 *  former one: messages are seen under their present name alone.
 *  Shape: the plan itself where nothing names a former name; the same one each time. A name that is a present one is nobody's former one.
 */
export const withPresentNames = (plan: Plan): Plan => {
  let known = presentKnown.get(plan);
  if (!known) presentKnown.set(plan, (known = presentlyNamed(plan)));
  return known;
};

const presentlyNamed = (plan: Plan): Plan => {
  let current = plan;
  const make = (edits: readonly (Edit | undefined)[]): void => {
    const r = applyEdits(current, edits.filter((e) => e !== undefined)); // prettier-ignore
    if (r.ok) current = r.plan;
  };
  const taken = new Set([...entries(plan, 'event').map(([, e]) => e.name), ...entries(plan, 'definition').map(([, d]) => d.name)]);
  for (const [id, event] of entries(plan, 'event'))
    for (const former of event.formerNames) {
      if (event.name === '' || taken.has(former)) continue;
      // Of two that claim it the first has it.
      taken.add(former);
      make(eventNameMoved(current, former, event.name));
      for (const [other, e] of entries(current, 'event'))
        if (e.counterpart?.eventName === former)
          make([setField(current, 'event', other, 'counterpart', { ...e.counterpart, eventName: plan.event[id]!.name })]);
    }
  const places = new Set(entries(plan, 'property').map(([, p]) => refKey(refOfProperty(p))));
  for (const [id, p] of entries(plan, 'property'))
    for (const former of p.formerNames) {
      const from = refOfProperty({ ...p, name: former });
      if (p.name === '' || places.has(refKey(from))) continue;
      places.add(refKey(from));
      make(referencesMoved(current, id, from, refOfProperty(p)));
    }
  return current;
};

/** A question as it is asked in a plan, with present names. */
export const questionWithPresentNames = (plan: Plan, question: Question): Question =>
  withPresentNames({ ...plan, question: { asked: question } }).question['asked']!;
