/** Events that the library of a source sends on its own: nobody planned or built them, and definitions can be made of them. */
import { blank } from './defaults';
import { setField, type Edit } from './edit';
import { toCase } from '../naming/case-style';
import { entries, settingsOf, type Id, type Plan } from './plan';

const known = new WeakMap<Plan['source'], ReadonlyMap<string, readonly Id[]>>();

/** Name → the sources whose library is said to send it. */
export const automaticEvents = (plan: Plan): ReadonlyMap<string, readonly Id[]> => {
  let own = known.get(plan.source);
  if (!own) {
    const made = new Map<string, Id[]>();
    for (const [id, s] of entries(plan, 'source'))
      for (const name of new Set(s.automaticEvents)) made.set(name, [...(made.get(name) ?? []), id]);
    known.set(plan.source, (own = made));
  }
  return own;
};

/** The edits that list an event as sent by the libraries of sources. Shape: none where they list it already. */
export const listAsAutomatic = (plan: Plan, name: string, sourceIds: readonly Id[]): Edit[] =>
  sourceIds.flatMap((id) => {
    const own = plan.source[id]?.automaticEvents ?? [];
    const edit = plan.source[id] && !own.includes(name) ? setField(plan, 'source', id, 'automaticEvents', [...own, name]) : undefined;
    return edit ? [edit] : [];
  });

/** The edit that begins a definition over an event, under a name that is free. */
export const buildOn = (plan: Plan, eventName: string, newId: () => Id): { readonly id: Id; readonly edits: readonly Edit[] } => {
  const taken = new Set([
    ...entries(plan, 'definition').map(([, d]) => d.name),
    ...entries(plan, 'event').map(([, e]) => e.name),
    eventName,
  ]);
  const proposed = toCase(`${eventName} narrowed`, settingsOf(plan).naming.eventCase);
  let name = proposed;
  for (let n = 2; taken.has(name); n++) name = `${proposed} ${n}`;
  const id = newId();
  return {
    id,
    edits: [{ op: 'create', kind: 'definition', id, body: blank('definition', { name, source: { of: 'events', names: [eventName] } }) }],
  };
};
