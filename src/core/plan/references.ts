/** Who refers to an entity, and how it is taken out of the plan: detached and removed, or retired. */
import { eventsOfTrial } from '../trial/script';
import { isMadeOf, refsIn } from '../definitions/named';
import { rawNeeds } from '../definitions/planned';
import { needsOf, userPropertiesOf } from '../questions/coverage';
import { setField, type Edit } from './edit';
import { entries, labelOf, type BodyOf, type Id, type Kind, type Plan } from './plan';
import { isInside, refOfProperty } from './property-path';

export interface Reference {
  readonly kind: Kind;
  readonly id: Id;
  readonly label: string;
  /** How it refers, in words. */
  readonly how: string;
}

/** Everything that refers to an entity, by id or by name, in the order of the kinds. */
export const referencesTo = (plan: Plan, kind: Kind, id: Id): Reference[] => {
  const out: Reference[] = [];
  const add = (k: Kind, i: Id, how: string) => out.push({ kind: k, id: i, label: labelOf(k, plan[k][i]), how });
  const name = labelOf(kind, plan[kind][id]);
  if (kind === 'event') {
    for (const [qid, q] of entries(plan, 'question'))
      if (needsOf(q).some((n) => n.eventName === name)) add('question', qid, 'asks about it');
    for (const [eid, e] of entries(plan, 'event')) if (e.counterpart?.eventName === name) add('event', eid, 'is confirmed by it');
  }
  if (kind === 'definition')
    for (const [qid, q] of entries(plan, 'question'))
      if (needsOf(q).some((n) => n.eventName === name)) add('question', qid, 'asks about it');
  if (kind === 'event' || kind === 'definition')
    for (const [tid, t] of entries(plan, 'trial')) if (eventsOfTrial(t).includes(name)) add('trial', tid, 'tries it');
  if (kind === 'event' || kind === 'definition')
    for (const [did, d] of entries(plan, 'definition')) if (did !== id && isMadeOf(d, name)) add('definition', did, 'is made of it');
  if (kind === 'property') {
    const carriers = new Set<string>();
    const ref = refOfProperty(plan.property[id] ?? { name });
    for (const [eid, e] of entries(plan, 'event'))
      if (e.properties.some((p) => p.propertyId === id)) {
        carriers.add(e.name);
        add('event', eid, 'carries it');
      } else if (e.sharedSets.some((s) => plan.sharedSet[s]?.properties.some((p) => p.propertyId === id))) carriers.add(e.name);
    for (const [sid, s] of entries(plan, 'sharedSet')) if (s.properties.some((p) => p.propertyId === id)) add('sharedSet', sid, 'holds it');
    for (const [qid, q] of entries(plan, 'question'))
      if (
        needsOf(q)
          .flatMap((n) =>
            rawNeeds(
              plan,
              n.eventName,
              n.properties.map((p) => p.name),
            ),
          )
          .some((n) => carriers.has(n.eventName) && n.properties.some((p) => isInside(p, ref)))
      )
        add('question', qid, 'asks about it');
    for (const [did, d] of entries(plan, 'definition'))
      if (refsIn(d, 'property').some((r) => isInside(r, ref))) add('definition', did, 'names it');
  }
  if (kind === 'sharedSet') for (const [eid, e] of entries(plan, 'event')) if (e.sharedSets.includes(id)) add('event', eid, 'takes it');
  if (kind === 'userProperty')
    for (const [qid, q] of entries(plan, 'question'))
      if (q.formula && userPropertiesOf(q.formula).some((r) => isInside(r, refOfProperty(plan.userProperty[id] ?? { name }))))
        add('question', qid, 'groups by it');
  if (kind === 'userProperty')
    for (const [did, d] of entries(plan, 'definition'))
      if (refsIn(d, 'user property').some((r) => isInside(r, refOfProperty(plan.userProperty[id] ?? { name }))))
        add('definition', did, 'has a condition on it');
  if (kind === 'source') {
    for (const [tid, t] of entries(plan, 'trial'))
      if (t.steps.some((s) => s.expects.some((e) => e.sources.includes(id)))) add('trial', tid, 'expects messages of it');
    for (const [eid, e] of entries(plan, 'event')) if (e.sources.some((s) => s.sourceId === id)) add('event', eid, 'is sent by it');
    for (const [uid, u] of entries(plan, 'userProperty')) if (u.sources.includes(id)) add('userProperty', uid, 'is set by it');
  }
  if (kind === 'identifierKind')
    for (const [sid, s] of entries(plan, 'source'))
      if (s.idKinds.beforeSignIn.includes(name) || s.idKinds.afterSignIn.includes(name)) add('source', sid, 'carries it');
  return out;
};

/** The edits that remove an entity, and take it out of what refers to it by id. Questions keep the name and then lack it. */
export const removalOf = (plan: Plan, kind: Kind, id: Id): Edit[] => {
  const edits: (Edit | undefined)[] = [];
  for (const [eid, e] of entries(plan, 'event')) {
    if (kind === 'event' && eid === id) continue;
    if (kind === 'property' && e.properties.some((p) => p.propertyId === id))
      edits.push(
        setField(
          plan,
          'event',
          eid,
          'properties',
          e.properties.filter((p) => p.propertyId !== id),
        ),
      );
    if (kind === 'source' && e.sources.some((s) => s.sourceId === id))
      edits.push(
        setField(
          plan,
          'event',
          eid,
          'sources',
          e.sources.filter((s) => s.sourceId !== id),
        ),
      );
    if (kind === 'sharedSet' && e.sharedSets.includes(id))
      edits.push(
        setField(
          plan,
          'event',
          eid,
          'sharedSets',
          e.sharedSets.filter((s) => s !== id),
        ),
      );
  }
  if (kind === 'event')
    for (const [sid, { prerequisites }] of entries(plan, 'source'))
      if (prerequisites?.some((p) => p.notInheritedBy.includes(id)))
        edits.push(
          setField(
            plan,
            'source',
            sid,
            'prerequisites',
            prerequisites.map((p) => ({ ...p, notInheritedBy: p.notInheritedBy.filter((e) => e !== id) })),
          ),
        );
  if (kind === 'source')
    for (const [tid, t] of entries(plan, 'trial'))
      if (t.steps.some((s) => s.expects.some((e) => e.sources.includes(id))))
        edits.push(
          setField(
            plan,
            'trial',
            tid,
            'steps',
            t.steps.map((s) => ({ ...s, expects: s.expects.map((e) => ({ ...e, sources: e.sources.filter((x) => x !== id) })) })),
          ),
        );
  if (kind === 'property')
    for (const [sid, s] of entries(plan, 'sharedSet'))
      if (s.properties.some((p) => p.propertyId === id))
        edits.push(
          setField(
            plan,
            'sharedSet',
            sid,
            'properties',
            s.properties.filter((p) => p.propertyId !== id),
          ),
        );
  if (kind === 'source')
    for (const [uid, u] of entries(plan, 'userProperty'))
      if (u.sources.includes(id))
        edits.push(
          setField(
            plan,
            'userProperty',
            uid,
            'sources',
            u.sources.filter((s) => s !== id),
          ),
        );
  if (kind === 'identifierKind') {
    const name = plan.identifierKind[id]?.name;
    for (const [sid, s] of entries(plan, 'source')) {
      const without = (list: readonly string[]) => list.filter((k) => k !== name);
      const { beforeSignIn, afterSignIn } = s.idKinds;
      if (name !== undefined && (beforeSignIn.includes(name) || afterSignIn.includes(name)))
        edits.push(setField(plan, 'source', sid, 'idKinds', { beforeSignIn: without(beforeSignIn), afterSignIn: without(afterSignIn) }));
    }
  }
  const body = (plan[kind] as Readonly<Record<Id, BodyOf[Kind]>>)[id];
  return [...edits.filter((e) => e !== undefined), ...(body ? [{ op: 'remove', kind, id, body } as const] : [])];
};

const RETIRING: readonly Kind[] = ['event', 'property', 'userProperty', 'definition', 'trial'];

/** Whether entities of this kind can be retired, which keeps them for the history. */
export const canRetire = (kind: Kind): kind is 'event' | 'property' | 'userProperty' | 'definition' | 'trial' => RETIRING.includes(kind);
