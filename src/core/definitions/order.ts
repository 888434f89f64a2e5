/** In which order definitions are worked out: what one is made of comes before it. */
import type { Definition } from './definition';

export type Ordered =
  | { readonly ok: true; readonly order: readonly Definition[] }
  /** Names of the definitions that are made of one another, the first one again at the end. */
  | { readonly ok: false; readonly circle: readonly string[] };

const sourcesOf = (d: Definition): readonly string[] => (d.source.of === 'events' ? d.source.names : []);

/** Definitions that hold, each after those that it is made of: those that are made of one another hold nothing, and are left out. */
export const withoutCircles = <D extends Definition>(definitions: readonly D[]): readonly D[] => {
  let held = definitions;
  for (;;) {
    const ordered = orderOf(held);
    if (ordered.ok) return ordered.order as readonly D[];
    const { circle } = ordered;
    held = held.filter((d) => !circle.includes(d.name));
  }
};

/** Definitions, each after those that it is made of; or the first circle among them.
 *  Shape: every definition once, otherwise in the order given. Of two under one name the first is meant. A definition that unites twins may bear
 *  the name of one of them: a name that is its own means what arrives under it.
 */
export const orderOf = (definitions: readonly Definition[]): Ordered => {
  const byName = new Map<string, Definition>();
  for (const d of definitions) if (!byName.has(d.name)) byName.set(d.name, d);
  const done = new Set<Definition>();
  const order: Definition[] = [];
  const walk = (d: Definition, way: readonly Definition[]): readonly string[] | undefined => {
    if (done.has(d)) return undefined;
    const at = way.indexOf(d);
    if (at >= 0) return [...way.slice(at), d].map((x) => x.name);
    for (const name of sourcesOf(d)) {
      const from = byName.get(name);
      const circle = from && from !== d ? walk(from, [...way, d]) : undefined;
      if (circle) return circle;
    }
    done.add(d);
    order.push(d);
    return undefined;
  };
  for (const d of definitions) {
    const circle = walk(d, []);
    if (circle) return { ok: false, circle };
  }
  return { ok: true, order };
};
