/** The edits that add to a plan exactly what a question lacks. */
import { definitionNamed, rawNeeds } from '../definitions/planned';
import { toCase } from '../naming/case-style';
import { agreedName, objectAction } from '../naming/object-action';
import { lowerWords } from '../naming/words';
import { blank } from '../plan/defaults';
import { setField, type Edit } from '../plan/edit';
import { entries, settingsOf, type Id, type NamingRules, type Plan } from '../plan/plan';
import { eventNamed, indexOf } from '../plan/plan-index';
import { named, ownName, PathMap, type PropertyRef } from '../plan/property-path';
import { unitHint } from '../plan/unit';
import type { Lack } from './coverage';
import { mapFormulaEvents } from './formula';

/** An event's name as the naming rules want it: words, order and tense where they are known, else the case alone. */
const draftedName = (name: string, naming: NamingRules): string => {
  const parts = objectAction(name, naming);
  return parts && parts.object.length > 0 ? agreedName(parts, naming) : toCase(name, naming.eventCase);
};

/** Where a property that lacks is to be added: on the event itself, or on those that a defined event is made of. Of interactions nothing can be asked. */
const placesOf = (plan: Plan, l: Lack & { readonly what: 'property' }): { eventName: string; property: PropertyRef }[] =>
  definitionNamed(plan, l.eventName)
    ? rawNeeds(plan, l.eventName, [l.property]).flatMap(({ eventName, properties: [property] }) =>
        property === undefined ? [] : [{ eventName, property }],
      )
    : [{ eventName: l.eventName, property: l.property }];

/** The edits that add exactly what is lacking, and nothing else.
 *  Shape: properties before the events that carry them; a property that the plan already has under this name is taken, not doubled.
 *  A drafted event is named by the naming rules, and the questions that named it otherwise are moved along; its trigger is left to
 *  be written. `newId` gives a fresh id at each call.
 */
export const addLacks = (plan: Plan, lacks: readonly Lack[], newId: () => Id): Edit[] => {
  const edits: Edit[] = [];
  const { naming } = settingsOf(plan);
  const drafted = new Map<string, { id: Id; properties: { propertyId: Id; required: boolean }[] }>();
  const known = indexOf(plan).propertyAt;
  const added = new PathMap<Id>();
  const extend = new Map<Id, Id[]>();
  for (const l of lacks)
    if (l.what === 'event') drafted.set(l.eventName, { id: newId(), properties: [] });
    else if (l.what === 'user property')
      edits.push({ op: 'create', kind: 'userProperty', id: newId(), body: blank('userProperty', named(l.name)) });
    else
      for (const { eventName, property } of placesOf(plan, l)) {
        let id = known.get(property) ?? added.get(property);
        if (id === undefined) {
          id = newId();
          added.add(property, id);
          const unit = l.type === 'integer' || l.type === 'number' ? (unitHint(lowerWords(ownName(property))) ?? '') : '';
          const samples = l.type === 'boolean' ? ['true', 'false'] : l.sample === undefined || l.sample === '' ? [] : [String(l.sample)];
          edits.push({ op: 'create', kind: 'property', id, body: blank('property', { ...named(property), type: l.type, unit, samples }) });
        }
        const draft = drafted.get(eventName);
        if (draft) draft.properties.push({ propertyId: id, required: true });
        else {
          const found = eventNamed(plan, eventName);
          if (found) extend.set(found[0], [...(extend.get(found[0]) ?? []), id]);
        }
      }
  const lastOrder = Math.max(0, ...entries(plan, 'event').map(([, e]) => e.order)) + 1;
  const renamed = new Map<string, string>();
  for (const [asked, { id, properties }] of drafted) {
    const proposed = draftedName(asked, naming);
    const name = indexOf(plan).eventByName.has(proposed) ? asked : proposed;
    if (name !== asked) renamed.set(asked, name);
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
  for (const [id, more] of extend) {
    const before = plan.event[id]!.properties;
    const after = [...before, ...more.map((propertyId) => ({ propertyId, required: true }))];
    edits.push({ op: 'set', kind: 'event', id, field: 'properties', before, after });
  }
  if (renamed.size > 0)
    for (const [id, q] of entries(plan, 'question')) {
      const edit =
        q.formula &&
        setField(
          plan,
          'question',
          id,
          'formula',
          mapFormulaEvents(q.formula, (n) => renamed.get(n) ?? n),
        );
      if (edit) edits.push(edit);
    }
  return edits;
};
