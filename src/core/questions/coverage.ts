/** Coverage: what a question needs of the plan, what the plan lacks, and the edits that add exactly that. */
import { objectAction } from '../naming/object-action';
import { nearest } from '../naming/likeness';
import { blank } from '../plan/defaults';
import type { Edit } from '../plan/edit';
import { entries, findEvent, propertiesOf, settingsOf, type Id, type Plan, type PropertyType, type Question } from '../plan/plan';
import { stepsOf, type ConditionValue } from './formula';

export interface Need {
  readonly eventName: string;
  readonly properties: readonly { readonly name: string; readonly type: PropertyType; readonly sample: ConditionValue }[];
}

export type Lack =
  | { readonly what: 'event'; readonly eventName: string; readonly nearest: string | undefined }
  | {
      readonly what: 'property';
      readonly eventName: string;
      readonly property: string;
      readonly type: PropertyType;
      readonly sample: ConditionValue;
    };

export type Coverage =
  | { readonly state: 'answerable'; readonly needs: readonly Need[] }
  | { readonly state: 'partly'; readonly needs: readonly Need[]; readonly lacks: readonly Lack[] }
  | { readonly state: 'undefined'; readonly reason: string };

const typeOfValue = (v: ConditionValue): PropertyType =>
  typeof v === 'boolean' ? 'boolean' : typeof v === 'number' ? (Number.isInteger(v) ? 'integer' : 'number') : 'string';

/** The events and properties that a question's formula names, each event once, in the order of the formula. */
export const needsOf = (question: Question): Need[] => {
  const byEvent = new Map<string, Map<string, ConditionValue>>();
  for (const step of question.formula ? stepsOf(question.formula) : []) {
    const props = byEvent.get(step.eventName) ?? new Map<string, ConditionValue>();
    for (const c of step.where) if (!props.has(c.property)) props.set(c.property, c.is);
    byEvent.set(step.eventName, props);
  }
  return [...byEvent].map(([eventName, props]) => ({
    eventName,
    properties: [...props].map(([name, sample]) => ({ name, type: typeOfValue(sample), sample })),
  }));
};

/** Whether the plan can answer the question.
 *  Shape: `undefined` while the formula is missing or incomplete, with the reason; `partly` with every lack named.
 */
export const coverageOf = (plan: Plan, question: Question): Coverage => {
  const f = question.formula;
  if (!f) return { state: 'undefined', reason: 'no formula is chosen' };
  const steps = stepsOf(f);
  if (steps.some((s) => s.eventName.trim() === '')) return { state: 'undefined', reason: 'an event is still open' };
  if (f.type === 'active persons' && steps.length === 0)
    return { state: 'undefined', reason: '“active” needs the event that makes a person active' };
  if (f.type === 'conversion' && steps.length < 2) return { state: 'undefined', reason: 'a conversion needs a first and a later event' };
  if (steps.some((s) => s.where.some((c) => c.property.trim() === ''))) return { state: 'undefined', reason: 'a condition is still open' };
  const needs = needsOf(question);
  const lacks: Lack[] = [];
  for (const need of needs) {
    const found = findEvent(plan, need.eventName);
    if (!found) {
      const names = entries(plan, 'event').map(([, e]) => e.name);
      lacks.push({ what: 'event', eventName: need.eventName, nearest: nearest(need.eventName, names) });
    }
    const planned = found ? propertiesOf(plan, found[1]) : [];
    for (const p of need.properties)
      if (!planned.some((x) => x.property.name === p.name))
        lacks.push({ what: 'property', eventName: need.eventName, property: p.name, type: p.type, sample: p.sample });
  }
  return lacks.length === 0 ? { state: 'answerable', needs } : { state: 'partly', needs, lacks };
};

/** A lack in words, names in back quotes. */
export const lackText = (l: Lack): string =>
  l.what === 'event' ? `\`${l.eventName}\` is not in the plan` : `\`${l.eventName}\` needs \`${l.property}\`, ${l.type}`;

/** The edits that add exactly what is lacking, and nothing else.
 *  Shape: events before their properties; a property that the plan already has under this name is taken, not doubled.
 *  `newId` gives a fresh id at each call.
 */
export const addLacks = (plan: Plan, lacks: readonly Lack[], newId: () => Id): Edit[] => {
  const edits: Edit[] = [];
  const { naming } = settingsOf(plan);
  const drafted = new Map<string, { id: Id; properties: { propertyId: Id; required: boolean }[] }>();
  const propertyIds = new Map(entries(plan, 'property').map(([id, p]) => [p.name, id]));
  const extend = new Map<Id, Id[]>();
  for (const l of lacks)
    if (l.what === 'event') drafted.set(l.eventName, { id: newId(), properties: [] });
    else {
      let id = propertyIds.get(l.property);
      if (id === undefined) {
        id = newId();
        propertyIds.set(l.property, id);
        const body = blank('property', {
          name: l.property,
          type: l.type,
          samples: l.type === 'boolean' ? ['true', 'false'] : [String(l.sample)],
        });
        edits.push({ op: 'create', kind: 'property', id, body });
      }
      const draft = drafted.get(l.eventName);
      if (draft) draft.properties.push({ propertyId: id, required: true });
      else {
        const found = findEvent(plan, l.eventName);
        if (found) extend.set(found[0], [...(extend.get(found[0]) ?? []), id]);
      }
    }
  const lastOrder = Math.max(0, ...entries(plan, 'event').map(([, e]) => e.order)) + 1;
  for (const [name, { id, properties }] of drafted) {
    const parts = objectAction(name, naming);
    const body = blank('event', {
      name,
      properties,
      object: parts?.object.join(' ') ?? '',
      action: parts?.action.join(' ') ?? '',
      order: lastOrder + edits.length,
    });
    edits.push({ op: 'create', kind: 'event', id, body });
  }
  for (const [id, added] of extend) {
    const before = plan.event[id]!.properties;
    const after = [...before, ...added.map((propertyId) => ({ propertyId, required: true }))];
    edits.push({ op: 'set', kind: 'event', id, field: 'properties', before, after });
  }
  return edits;
};

/** The questions that an event (and, if given, one of its properties) serves. */
export const questionsServedBy = (plan: Plan, eventName: string, property?: string): [Id, Question][] =>
  entries(plan, 'question').filter(([, q]) =>
    needsOf(q).some((n) => n.eventName === eventName && (property === undefined || n.properties.some((p) => p.name === property))),
  );
