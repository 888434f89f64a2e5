/** The plan's economy, and the matrix of questions against what they need. */
import { entries, plannedAt, isLive, type Id, type Plan } from '../plan/plan';
import { carriersOf, plannedPropertiesOf } from '../plan/plan-index';
import { coverageOf, isAsked, needsOf, questionsServedBy, type Coverage } from './coverage';
import { isOpenRef, PathMap, refOfProperty, sameRef, type PropertyRef } from '../plan/property-path';

export interface Economy {
  readonly answerable: number;
  readonly partly: number;
  readonly undefined: number;
  readonly events: number;
  /** Pairs of event and property. */
  readonly pairs: number;
  readonly properties: number;
  /** Questions answered for each event; `undefined` without an event. */
  readonly answeredPerEvent: number | undefined;
}

export const economyOf = (plan: Plan): Economy => {
  const states = { answerable: 0, partly: 0, undefined: 0 };
  for (const [, q] of entries(plan, 'question')) states[coverageOf(plan, q).state]++;
  const live = entries(plan, 'event').filter(([, e]) => isLive(e));
  const carried = live.flatMap(([id]) => plannedPropertiesOf(plan, id).map((p) => p.id));
  return {
    ...states,
    events: live.length,
    pairs: carried.length,
    properties: new Set(carried).size,
    answeredPerEvent: live.length === 0 ? undefined : states.answerable / live.length,
  };
};

/** Names of the events that confirm one that serves a question. */
const confirming = (plan: Plan): Set<string> =>
  new Set(
    entries(plan, 'event').flatMap(([, e]) =>
      e.counterpart && questionsServedBy(plan, e.name).length > 0 ? [e.counterpart.eventName] : [],
    ),
  );

/** Events that serve no question, on their own or as the confirmation of one that does; those kept with a reason are marked. */
export const eventsForNoQuestion = (plan: Plan): { id: Id; kept: boolean }[] => {
  const confirm = confirming(plan);
  return entries(plan, 'event')
    .filter(([, e]) => isLive(e) && questionsServedBy(plan, e.name).length === 0 && !confirm.has(e.name))
    .map(([id, e]) => ({ id, kept: e.keepReason.trim() !== '' }));
};

/** Properties that no question names on any event that carries them, and that no confirmation is joined by. */
export const propertiesForNoQuestion = (plan: Plan): { id: Id; kept: boolean }[] => {
  const keys = entries(plan, 'event').flatMap(([, e]) => (e.counterpart ? [e.counterpart.keyProperty] : []));
  return entries(plan, 'property')
    .filter(([id, p]) => {
      const ref = refOfProperty(p);
      if (p.retired || keys.some((k) => sameRef(k, ref))) return false;
      return !carriersOf(plan, id).some((eid) => isAsked(plan, plan.event[eid]!.name, ref));
    })
    .map(([id, p]) => ({ id, kept: p.keepReason.trim() !== '' }));
};

export interface MatrixColumn {
  readonly eventName: string;
  /** `undefined`: the event itself. */
  readonly property: PropertyRef | undefined;
  /** Event of the plan; `undefined` when it is lacking. */
  readonly eventId: Id | undefined;
  readonly planned: boolean;
  /** Questions that need it. */
  readonly questions: number;
}

export interface CoverageMatrix {
  readonly rows: readonly {
    readonly id: Id;
    readonly text: string;
    readonly state: Coverage['state'];
    readonly needs: ReadonlySet<number>;
  }[];
  readonly columns: readonly MatrixColumn[];
}

/** Questions against events, and with `withProperties` against each needed property beside its event.
 *  Shape: every live event has a column, those that nobody needs last; the others, and those that the plan lacks, in the order in which the
 *  questions first need them, so that what belongs together is near the same line. `needs` of a row holds column numbers.
 */
export const coverageMatrix = (plan: Plan, withProperties: boolean): CoverageMatrix => {
  const asked = entries(plan, 'question').sort(([, a], [, b]) => a.order - b.order);
  const properties = new Map<string, PathMap<true>>();
  for (const [, q] of asked)
    for (const n of needsOf(q)) {
      if (n.eventName === '') continue;
      const set = properties.get(n.eventName) ?? new PathMap<true>();
      for (const p of n.properties) if (!isOpenRef(p.name)) set.add(p.name, true);
      properties.set(n.eventName, set);
    }
  const live = entries(plan, 'event')
    .filter(([, e]) => isLive(e))
    .sort(([, a], [, b]) => a.order - b.order);
  const known = new Map(live.map(([id, e]) => [e.name, id]));
  const columns: MatrixColumn[] = [];
  const at = new Map<string, { readonly event: number; readonly properties: PathMap<number> }>();
  const add = (eventName: string, eventId: Id | undefined) => {
    const planned = eventId === undefined ? [] : plannedPropertiesOf(plan, eventId);
    const places = { event: columns.length, properties: new PathMap<number>() };
    columns.push({
      eventName,
      property: undefined,
      eventId,
      planned: eventId !== undefined,
      questions: questionsServedBy(plan, eventName).length,
    });
    for (const property of withProperties ? (properties.get(eventName)?.keys() ?? []) : []) {
      places.properties.add(property, columns.length);
      const questions = questionsServedBy(plan, eventName, property).length;
      columns.push({ eventName, property, eventId, planned: plannedAt(planned, property) !== undefined, questions });
    }
    at.set(eventName, places);
  };
  for (const name of properties.keys()) add(name, known.get(name));
  for (const [id, e] of live) if (!properties.has(e.name)) add(e.name, id);
  return {
    columns,
    rows: asked.map(([id, q]) => ({
      id,
      text: q.text,
      state: coverageOf(plan, q).state,
      needs: new Set(
        needsOf(q).flatMap((n) => {
          const places = at.get(n.eventName);
          return places ? [places.event, ...n.properties.flatMap((p) => places.properties.get(p.name) ?? [])] : [];
        }),
      ),
    })),
  };
};
