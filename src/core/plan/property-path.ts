/** Where a property is in a message: the names on the way to its value, from the outside in. Most are of one name; a value inside an
 *  object has that object's path before its own name. Elements of lists have no path.
 */
export type PropertyPath = readonly string[];

/** A path as it is written down: the name alone where there is but one, which most documents hold. */
export type PropertyRef = string | PropertyPath;

/** So many objects may be around a value. */
export const MAX_WITHIN = 7;

export const pathOf = (ref: PropertyRef): PropertyPath => (typeof ref === 'string' ? [ref] : ref);

/** A path of at least one name, written down. */
export const refOf = (path: PropertyPath): PropertyRef => (path.length === 1 ? path[0]! : path);

export const sameRef = (a: PropertyRef, b: PropertyRef): boolean =>
  typeof a === 'string' || typeof b === 'string' ? a === b : a.length === b.length && a.every((s, i) => s === b[i]);

/** The path of a planned property. */
export const refOfProperty = (p: { readonly name: string; readonly within?: PropertyPath | undefined }): PropertyRef =>
  p.within && p.within.length > 0 ? [...p.within, p.name] : p.name;

/** A path as a property of the plan has it. */
export const named = (ref: PropertyRef): { readonly name: string; readonly within?: PropertyPath } =>
  typeof ref === 'string' ? { name: ref } : { name: ref.at(-1)!, within: ref.slice(0, -1) };

/** Whether one path is another or lies inside of it. */
export const isInside = (ref: PropertyRef, outer: PropertyRef): boolean => {
  const [path, from] = [pathOf(ref), pathOf(outer)];
  return from.length <= path.length && from.every((s, i) => s === path[i]);
};

/** A path after another one moved: itself where it does not lie there. */
export const movedRef = (ref: PropertyRef, from: PropertyRef, to: PropertyRef): PropertyRef =>
  isInside(ref, from) ? refOf([...pathOf(to), ...pathOf(ref).slice(pathOf(from).length)]) : ref;

/** Whether nothing is chosen yet. */
export const isOpenRef = (ref: PropertyRef): boolean => typeof ref === 'string' && ref.trim() === '';

/** The last name, by which the value is called. */
export const ownName = (ref: PropertyRef): string => (typeof ref === 'string' ? ref : ref.at(-1)!);

const PLAIN = /^[^\s."]+$/;

/** A path as it is shown: `order.total`. A name that would not be told from two is quoted; one that is alone is shown as it is. */
export const refText = (ref: PropertyRef): string =>
  typeof ref === 'string' ? ref : ref.map((s) => (PLAIN.test(s) ? s : JSON.stringify(s))).join('.');

/** A path as a key, and back. */
export const refKey = (ref: PropertyRef): string => JSON.stringify(ref);
export const refOfKey = (key: string): PropertyRef => JSON.parse(key) as PropertyRef;

type Values = { readonly [name: string]: unknown };

export const isObject = (v: unknown): v is Values => typeof v === 'object' && v !== null && !Array.isArray(v);

/** The value at a path; `undefined` where there is none, or a name on the way is no object's own. */
export const valueAt = (values: Values, ref: PropertyRef): unknown => {
  let v: unknown = values;
  for (const name of pathOf(ref)) {
    if (!isObject(v) || !Object.hasOwn(v, name)) return undefined;
    v = v[name];
  }
  return v;
};

/** Puts a value to a path, making the objects on the way; false where something else is there. */
export const putAt = (values: Record<string, unknown>, ref: PropertyRef, v: unknown): boolean => {
  const path = pathOf(ref);
  let at = values;
  for (const name of path.slice(0, -1)) {
    if (!Object.hasOwn(at, name)) Object.defineProperty(at, name, { value: {}, enumerable: true, writable: true, configurable: true });
    const next = at[name];
    if (!isObject(next)) return false;
    at = next;
  }
  Object.defineProperty(at, path.at(-1)!, { value: v, enumerable: true, writable: true, configurable: true });
  return true;
};

/** Values by path, in the order in which they were added. */
export class PathMap<V> implements Iterable<readonly [PropertyRef, V]> {
  private readonly own = new Map<string, V>();
  private readonly inner = new Map<string, PathMap<V>>();
  private readonly list: (readonly [PropertyRef, V])[] = [];

  constructor(given: Iterable<readonly [PropertyRef, V]> = []) {
    for (const [ref, v] of given) this.add(ref, v);
  }

  get size(): number {
    return this.list.length;
  }

  get(ref: PropertyRef): V | undefined {
    return typeof ref === 'string' ? this.own.get(ref) : this.levelOf(ref, 0)?.own.get(ref.at(-1)!);
  }

  has(ref: PropertyRef): boolean {
    return typeof ref === 'string' ? this.own.has(ref) : (this.levelOf(ref, 0)?.own.has(ref.at(-1)!) ?? false);
  }

  /** Adds a value under a path that has none; where it has one, that stays. */
  add(ref: PropertyRef, v: V): this {
    if (this.has(ref)) return this;
    this.put(pathOf(ref), 0, v);
    this.list.push([refOf(pathOf(ref)), v]);
    return this;
  }

  *keys(): Generator<PropertyRef> {
    for (const [ref] of this.list) yield ref;
  }

  *values(): Generator<V> {
    for (const [, v] of this.list) yield v;
  }

  [Symbol.iterator](): Iterator<readonly [PropertyRef, V]> {
    return this.list.values();
  }

  private put(path: PropertyPath, at: number, v: V): void {
    const name = path[at]!;
    if (at === path.length - 1) {
      this.own.set(name, v);
      return;
    }
    let next = this.inner.get(name);
    if (!next) this.inner.set(name, (next = new PathMap()));
    next.put(path, at + 1, v);
  }

  private levelOf(path: PropertyPath, at: number): PathMap<V> | undefined {
    return at === path.length - 1 ? this : this.inner.get(path[at]!)?.levelOf(path, at + 1);
  }
}
