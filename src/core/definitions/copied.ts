/** What a defined event's properties are: those of its message, unless set, renamed or dropped. */
import { isObject, ownName, pathOf, putAt, refOf, refText, valueAt, type PropertyRef } from '../plan/property-path';
import type { Change } from './definition';

type Values = { readonly [name: string]: unknown };

export interface Copied {
  readonly values: Values;
  /** Changes that this message gave no ground for, or that would write over what is there, in sentences. */
  readonly notes: readonly string[];
}

const deepCopy = (v: unknown): unknown => (isObject(v) ? Object.fromEntries(Object.entries(v).map(([k, x]) => [k, deepCopy(x)])) : v);

/** Takes a value away; an object that is left with nothing stays, since the message had one. */
const removeAt = (values: Record<string, unknown>, ref: PropertyRef): void => {
  const path = pathOf(ref);
  const outer = path.length === 1 ? values : valueAt(values, refOf(path.slice(0, -1)));
  if (isObject(outer)) Reflect.deleteProperty(outer, ownName(ref));
};

/** The properties of a message under the changes, one after the other.
 *  Shape: a new object; the message is left as it is. A property keeps its objects when it is renamed. A renamed or dropped property that the
 *  message lacks changes nothing, and is told; so is a name that is taken already: the later change wins.
 */
export const copied = (properties: Values, changes: readonly Change[]): Copied => {
  const values = deepCopy(properties) as Record<string, unknown>;
  const notes: string[] = [];
  const put = (ref: PropertyRef, v: unknown): void => {
    if (!putAt(values, ref, v)) notes.push(`\`${refText(ref)}\` can’t be set: something else than an object is around it.`);
  };
  for (const c of changes) {
    const before = valueAt(values, c.name);
    if (c.what === 'set') {
      put(c.name, c.value);
      continue;
    }
    if (before === undefined) {
      notes.push(`This message has no \`${refText(c.name)}\`.`);
      continue;
    }
    removeAt(values, c.name);
    if (c.what === 'drop') continue;
    const to = refOf([...pathOf(c.name).slice(0, -1), c.to]);
    if (valueAt(values, to) !== undefined) notes.push(`\`${refText(to)}\` was there already, and is written over.`);
    put(to, before);
  }
  return { values, notes };
};
