/** Where the values of a defined event come from: the paths of its messages under its changes. */
import { isInside, movedRef, pathOf, refOf, sameRef, type PropertyRef } from '../plan/property-path';
import type { Change, Operand } from './definition';

export type ComesFrom =
  | { readonly what: 'nothing' }
  | { readonly what: 'path'; readonly path: PropertyRef }
  /** The same for every message, but for one that has something else than an object around it. */
  | { readonly what: 'value'; readonly value: Operand; readonly around: ComesFrom }
  /** One thing where the message has something, another where it has not. */
  | { readonly what: 'either'; readonly has: ComesFrom; readonly then: ComesFrom; readonly otherwise: ComesFrom };

const NOTHING: ComesFrom = { what: 'nothing' };

const outerOf = (ref: PropertyRef): PropertyRef | undefined => {
  const path = pathOf(ref);
  return path.length > 1 ? refOf(path.slice(0, -1)) : undefined;
};

/** Where what stands at a path after the changes was before them.
 *  Shape: the changes are taken one after the other, as on one message (copied.ts), so the last is undone first.
 */
export const comesFrom = (ref: PropertyRef, changes: readonly Change[]): ComesFrom => {
  const last = changes.at(-1);
  if (!last) return { what: 'path', path: ref };
  const before = changes.slice(0, -1);
  const unchanged = (): ComesFrom => comesFrom(ref, before);
  switch (last.what) {
    case 'set': {
      if (!isInside(ref, last.name)) return unchanged();
      // A value that is set has nothing inside.
      if (!sameRef(ref, last.name)) return NOTHING;
      const outer = outerOf(ref);
      return { what: 'value', value: last.value, around: outer === undefined ? NOTHING : comesFrom(outer, before) };
    }
    case 'drop':
      return isInside(ref, last.name) ? NOTHING : unchanged();
    default: {
      const to = refOf([...pathOf(last.name).slice(0, -1), last.to]);
      if (isInside(ref, to))
        return {
          what: 'either',
          has: comesFrom(last.name, before),
          then: comesFrom(movedRef(ref, to, last.name), before),
          otherwise: unchanged(),
        };
      return isInside(ref, last.name) ? NOTHING : unchanged();
    }
  }
};
