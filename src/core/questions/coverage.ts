/** Coverage: what a question needs of the plan, and what the plan lacks. */
import { rawNeeds, withDefinedEvents } from '../definitions/planned';
import { nearest } from '../naming/likeness';
import { entries, plannedAt, type Id, type Plan, type PropertyType, type Question } from '../plan/plan';
import { automaticEvents } from '../plan/automatic';
import { eventNamed, indexOf, plannedPropertiesOf } from '../plan/plan-index';
import { isOpenRef, PathMap, refOfProperty, refText, sameRef, type PropertyRef } from '../plan/property-path';
import { isArithmetic, isUnary, stepsOf, type ConditionValue, type Formula } from './formula';
import { definitionOf, mainEvent } from './formulas/index';
import { typedFormula } from './typed-conditions';

export interface PropertyNeed {
  readonly name: PropertyRef;
  readonly type: PropertyType;
  /** A value that the formula names; `undefined` where it names none. */
  readonly sample: ConditionValue | undefined;
  /** Arithmetic is done on it. */
  readonly numeric: boolean;
}

export interface Need {
  readonly eventName: string;
  readonly properties: readonly PropertyNeed[];
}

export type Lack =
  | { readonly what: 'event'; readonly eventName: string; readonly nearest: string | undefined }
  | ({ readonly what: 'property'; readonly eventName: string; readonly property: PropertyRef } & Omit<PropertyNeed, 'name'>)
  | { readonly what: 'user property'; readonly name: PropertyRef };

export type Coverage =
  | { readonly state: 'answerable'; readonly needs: readonly Need[]; readonly warnings: readonly string[] }
  | { readonly state: 'partly'; readonly needs: readonly Need[]; readonly lacks: readonly Lack[]; readonly warnings: readonly string[] }
  | { readonly state: 'undefined'; readonly reason: string };

const typeOfValue = (v: ConditionValue | undefined, numeric: boolean): PropertyType =>
  typeof v === 'boolean' ? 'boolean' : typeof v === 'number' ? (Number.isInteger(v) ? 'integer' : 'number') : numeric ? 'number' : 'string';

const needsOfFormula = (f: Formula): Need[] => {
  const byEvent = new Map<string, PathMap<PropertyNeed>>();
  const eventOf = (name: string) => {
    let props = byEvent.get(name);
    if (!props) byEvent.set(name, (props = new PathMap()));
    return props;
  };
  const need = (eventName: string, name: PropertyRef, sample: ConditionValue | undefined, numeric: boolean) => {
    eventOf(eventName).add(name, { name, sample, numeric, type: typeOfValue(sample, numeric) });
  };
  for (const step of stepsOf(f)) {
    eventOf(step.eventName);
    for (const c of step.where)
      if (c.of === undefined) need(step.eventName, c.property, isUnary(c.op) ? undefined : c.is, isArithmetic(c.op));
  }
  for (const p of definitionOf(f.type).named(f)) need(p.eventName, p.name, p.sample, p.numeric);
  if (f.groupBy?.of === 'property') need(mainEvent(f), f.groupBy.name, undefined, false);
  return [...byEvent].map(([eventName, props]) => ({ eventName, properties: [...props.values()] }));
};

const needs = new WeakMap<Formula, Need[]>();

/** The events and properties that a question's formula names, each event once, in the order of the formula. */
export const needsOf = (question: Question): readonly Need[] => {
  const f = question.formula;
  if (!f) return [];
  let known = needs.get(f);
  if (!known) needs.set(f, (known = needsOfFormula(f)));
  return known;
};

/** The user properties that a formula names. */
export const userPropertiesOf = (f: Formula): PropertyRef[] => [
  ...distinct([
    ...(f.groupBy?.of === 'user property' ? [f.groupBy.name] : []),
    ...stepsOf(f).flatMap((s) => s.where.flatMap((c) => (c.of === 'user property' ? [c.property] : []))),
    ...(f.type === 'rate of a value' && f.condition.of === 'user property' ? [f.condition.property] : []),
  ]),
];

const distinct = (refs: readonly PropertyRef[]): Iterable<PropertyRef> => new PathMap(refs.map((r) => [r, true] as const)).keys();

/** Why a formula says nothing yet; `undefined` when it is complete. */
export const openPart = (f: Formula | null): string | undefined => {
  if (!f) return 'no formula is chosen';
  const own = definitionOf(f.type).open(f);
  const steps = stepsOf(f);
  if (own !== undefined && !steps.some((s) => s.eventName.trim() === '')) return own;
  if (steps.some((s) => s.eventName.trim() === '')) return 'an event is still open';
  if (own !== undefined) return own;
  if (steps.some((s) => s.where.some((c) => isOpenRef(c.property)))) return 'a condition is still open';
  if (f.groupBy && isOpenRef(f.groupBy.name)) return 'what it is grouped by is still open';
  return undefined;
};

/** The event of a library that an event is, or is made of; `undefined` where it is planned. */
const sentByLibrary = (plan: Plan, eventName: string): string | undefined => {
  const automatic = automaticEvents(plan);
  return automatic.size === 0
    ? undefined
    : rawNeeds(plan, eventName).find((n) => automatic.has(n.eventName) && !eventNamed(plan, n.eventName))?.eventName;
};

/** Whether the plan can answer the question.
 *  Shape: `undefined` while the formula is missing or incomplete, with the reason; `partly` with every lack named. Warnings are what
 *  a reader of the answer should know beforehand.
 */
export const coverageOf = (given: Plan, question: Question): Coverage => {
  const plan = withDefinedEvents(given);
  const f = question.formula;
  const open = openPart(f);
  if (open !== undefined || !f) return { state: 'undefined', reason: open ?? '' };
  const needed = needsOf(question);
  const lacks: Lack[] = [];
  const warnings: string[] = [...typedFormula(plan, f).problems];
  for (const need of needed) {
    const found = eventNamed(plan, need.eventName);
    const library = sentByLibrary(given, need.eventName);
    if (!found && !library) {
      const names = indexOf(plan).eventByName.keys();
      lacks.push({ what: 'event', eventName: need.eventName, nearest: nearest(need.eventName, names) });
    }
    const planned = found ? plannedPropertiesOf(plan, found[0]) : [];
    for (const { name, ...p } of need.properties)
      if (plannedAt(planned, name)) continue;
      else if (library) warnings.push(`\`${library}\` is sent by a library; the plan does not say what \`${refText(name)}\` is.`);
      else lacks.push({ what: 'property', eventName: need.eventName, property: name, ...p });
  }
  for (const name of userPropertiesOf(f)) {
    if (!entries(plan, 'userProperty').some(([, u]) => sameRef(refOfProperty(u), name) && !u.retired))
      lacks.push({ what: 'user property', name });
    warnings.push(`Values of \`${refText(name)}\` begin when it is first set: earlier messages of a person have none.`);
  }
  return lacks.length === 0 ? { state: 'answerable', needs: needed, warnings } : { state: 'partly', needs: needed, lacks, warnings };
};

/** A lack in words, names in back quotes. */
export const lackText = (l: Lack): string =>
  l.what === 'event'
    ? `\`${l.eventName}\` is not in the plan`
    : l.what === 'property'
      ? `\`${l.eventName}\` needs \`${refText(l.property)}\`, ${l.type}`
      : `the user property \`${refText(l.name)}\` is not in the plan`;

interface Served {
  /** Event name → questions. */
  readonly byEvent: ReadonlyMap<string, readonly Id[]>;
  /** Event name → property name → questions. */
  readonly byProperty: ReadonlyMap<string, PathMap<readonly Id[]>>;
}

const served = new WeakMap<Plan['question'], Served>();

const servedIn = (plan: Plan): Served => {
  const known = served.get(plan.question);
  if (known) return known;
  const byEvent = new Map<string, Id[]>();
  const byProperty = new Map<string, PathMap<Id[]>>();
  for (const [id, q] of entries(plan, 'question'))
    for (const n of needsOf(q)) {
      byEvent.set(n.eventName, [...(byEvent.get(n.eventName) ?? []), id]);
      const props = byProperty.get(n.eventName) ?? new PathMap<Id[]>();
      for (const p of n.properties) {
        const asking = props.get(p.name);
        if (asking) asking.push(id);
        else props.add(p.name, [id]);
      }
      byProperty.set(n.eventName, props);
    }
  const made = { byEvent, byProperty };
  served.set(plan.question, made);
  return made;
};

/** The questions that an event (and, if given, one of its properties) serves. */
export const questionsServedBy = (plan: Plan, eventName: string, property?: PropertyRef): [Id, Question][] => {
  const s = servedIn(plan);
  const ids = property === undefined ? s.byEvent.get(eventName) : s.byProperty.get(eventName)?.get(property);
  return (ids ?? []).map((id) => [id, plan.question[id]!]);
};

/** Whether any question asks for this property of this event. */
export const isAsked = (plan: Plan, eventName: string, property: PropertyRef): boolean =>
  servedIn(plan).byProperty.get(eventName)?.has(property) ?? false;
