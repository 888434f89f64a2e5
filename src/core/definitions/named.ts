/** What a definition names: events, properties, user properties; and the same with a name changed. */
import { isInside, movedRef, type PropertyRef } from '../plan/property-path';
import type { Change, Condition, Definition, Group } from './definition';

/** Whether a definition takes messages of an event of this name. */
export const isMadeOf = ({ source }: Pick<Definition, 'source'>, eventName: string): boolean =>
  source.of === 'events' && source.names.includes(eventName);

/** All conditions of a group, those of its groups too. */
export const conditionsIn = (where: Group): readonly Condition[] => [...where.conditions, ...where.groups.flatMap((g) => g.conditions)];

/** The properties, or user properties, that it has a condition on or changes. */
export const refsIn = ({ where, changes }: Pick<Definition, 'where' | 'changes'>, of: 'property' | 'user property'): PropertyRef[] => [
  ...conditionsIn(where).flatMap(({ subject }) => (subject.of === of ? [subject.name] : [])),
  ...(of === 'property' ? changes.map((c) => c.name) : []),
];

/** The source with an event's name changed; of two that become the same, one is left. */
export const sourceRenamed = (source: Definition['source'], from: string, to: string): Definition['source'] =>
  source.of === 'events' && source.names.includes(from)
    ? { of: 'events', names: [...new Set(source.names.map((n) => (n === from ? to : n)))] }
    : source;

const movedCondition = (c: Condition, from: PropertyRef, to: PropertyRef): Condition =>
  c.subject.of === 'property' && isInside(c.subject.name, from)
    ? { ...c, subject: { of: 'property', name: movedRef(c.subject.name, from, to) } }
    : c;

/** Conditions and changes with a property's path changed. */
export const propertyMoved = <D extends Pick<Definition, 'where' | 'changes'>>(
  d: D,
  from: PropertyRef,
  to: PropertyRef,
): Pick<D, 'where' | 'changes'> => ({
  where: {
    ...d.where,
    conditions: d.where.conditions.map((c) => movedCondition(c, from, to)),
    groups: d.where.groups.map((g) => ({ ...g, conditions: g.conditions.map((c) => movedCondition(c, from, to)) })),
  },
  changes: d.changes.map((c): Change => (isInside(c.name, from) ? { ...c, name: movedRef(c.name, from, to) } : c)),
});
