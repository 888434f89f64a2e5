/** A foreign workspace with its properties moved into objects, in the plan and in the messages alike: what is found and counted stays. */
import { applyEdits } from '../../src/core/plan/edit';
import type { Plan } from '../../src/core/plan/plan';
import { putAt, refOfProperty, type PropertyRef } from '../../src/core/plan/property-path';
import { moveProperty } from '../../src/core/plan/rename';
import type { Foreign } from './workspace';

const PLACES = [[], ['detail'], ['detail', 'more'], ['a.b', 'c d'], ['detail'], ['__proto__']] as const;

/** Every property of a plan in an object, or in none, in turn from a place on. */
const moved = (plan: Plan, first: number): Plan =>
  Object.keys(plan.property).reduce((now, id, i) => {
    const edits = moveProperty(now, id, PLACES[(first + i) % PLACES.length]!);
    if (typeof edits === 'string') throw new Error(edits);
    const applied = applyEdits(now, edits);
    if (!applied.ok) throw new Error(JSON.stringify(applied.problem));
    return applied.plan;
  }, plan);

export const nestedTwin = (w: Foreign): Foreign => {
  const plan = moved(w.plan, w.seed);
  const refOf = new Map<string, PropertyRef>();
  for (const [id, p] of Object.entries(w.plan.property)) {
    const ref = refOfProperty(plan.property[id]!);
    const outer = typeof ref === 'string' ? [] : ref.slice(0, -1);
    for (const name of [p.name, ...p.formerNames]) refOf.set(name, outer.length === 0 ? name : [...outer, name]);
  }
  const messages = w.messages.map((m) => {
    const properties: Record<string, unknown> = {};
    for (const [name, v] of Object.entries(m.value.properties)) putAt(properties, refOf.get(name) ?? name, v);
    return { ...m, value: { ...m.value, properties } };
  });
  return { ...w, plan, messages };
};
