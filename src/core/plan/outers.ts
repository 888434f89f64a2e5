/** Planned properties by where they are: the objects around them, and what is at one place. */
import { blank } from './defaults';
import type { PlannedProperty } from './plan';
import { named, PathMap, refOf, refOfProperty, sameRef, type PropertyPath } from './property-path';

/** Planned properties with the objects that they are in, also those that are not planned themselves: such a one must come where something
 *  inside of it must.
 */
export const withOuters = (planned: readonly PlannedProperty[]): PlannedProperty[] => {
  const at = new PathMap(planned.map((p) => [refOfProperty(p.property), p] as const));
  const outers = new PathMap<{ required: boolean }>();
  for (const p of planned) {
    const within = p.property.within ?? [];
    for (let depth = 1; depth <= within.length; depth++) {
      const ref = refOf(within.slice(0, depth));
      if (at.has(ref)) continue;
      outers.add(ref, { required: false });
      if (p.required) outers.get(ref)!.required = true;
    }
  }
  const made = [...outers].map(([ref, { required }]) => ({
    id: '',
    property: blank('property', { ...named(ref), type: 'object' }),
    required,
  }));
  return [...planned, ...made];
};

/** What is in the objects of this path, not deeper. */
export const standingIn = (planned: readonly PlannedProperty[], path: PropertyPath): PlannedProperty[] =>
  planned.filter(({ property }) => sameRef(property.within ?? [], path));
