/** Edits: the only way in which a plan changes. Each has an inverse, so that undo, history and audit are one thing. */
import type { BodyOf, Id, Kind, Plan } from './plan';

export type Edit =
  | { readonly op: 'create'; readonly kind: Kind; readonly id: Id; readonly body: BodyOf[Kind] }
  | { readonly op: 'remove'; readonly kind: Kind; readonly id: Id; readonly body: BodyOf[Kind] }
  | {
      readonly op: 'set';
      readonly kind: Kind;
      readonly id: Id;
      readonly field: string;
      readonly before: unknown;
      readonly after: unknown;
    };

export interface EditProblem {
  readonly code: 'missing' | 'exists' | 'stale';
  readonly kind: Kind;
  readonly id: Id;
  readonly field?: string;
  /** What the person who edits wanted, and what stands there now. */
  readonly mine?: unknown;
  readonly theirs?: unknown;
}

export type EditResult = { readonly ok: true; readonly plan: Plan } | { readonly ok: false; readonly problem: EditProblem };

/** Equality of plain JSON values, whatever the order of their keys. `undefined` fields count as absent. */
export const sameValue = (a: unknown, b: unknown): boolean => {
  if (Object.is(a, b)) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Array.isArray(a) !== Array.isArray(b)) return false;
  const keysOf = (o: object) => Object.keys(o).filter((k) => (o as Record<string, unknown>)[k] !== undefined);
  const ka = keysOf(a);
  if (ka.length !== keysOf(b).length) return false;
  return ka.every((k) => Object.hasOwn(b, k) && sameValue((a as Record<string, unknown>)[k], (b as Record<string, unknown>)[k]));
};

const without = <T>(o: Readonly<Record<string, T>>, key: string): Record<string, T> =>
  Object.fromEntries(Object.entries(o).filter(([k]) => k !== key));

const withEntity = (plan: Plan, kind: Kind, id: Id, body: BodyOf[Kind] | undefined): Plan => {
  const table: Readonly<Record<Id, BodyOf[Kind]>> = plan[kind];
  return { ...plan, [kind]: body === undefined ? without(table, id) : { ...table, [id]: body } };
};

/** The plan after the edit.
 *  Shape: the plan that came in is not changed; untouched entities keep their identity.
 *  Errors: an edit whose `before` no longer stands there is `stale` and comes back with both values; an entity that is
 *  absent is `missing`, one that is already there `exists`. Nothing throws.
 *  Source: own design.
 */
export const applyEdit = (plan: Plan, edit: Edit): EditResult => {
  const table = plan[edit.kind] as Record<Id, BodyOf[Kind]>;
  const current = Object.hasOwn(table, edit.id) ? table[edit.id] : undefined;
  const fail = (problem: Omit<EditProblem, 'kind' | 'id'>): EditResult => ({
    ok: false,
    problem: { kind: edit.kind, id: edit.id, ...problem },
  });
  if (edit.op === 'create') {
    if (current) return fail({ code: 'exists', mine: edit.body, theirs: current });
    return { ok: true, plan: withEntity(plan, edit.kind, edit.id, edit.body) };
  }
  if (!current) return fail({ code: 'missing', mine: edit.op === 'set' ? edit.after : undefined });
  if (edit.op === 'remove') {
    if (!sameValue(current, edit.body)) return fail({ code: 'stale', mine: undefined, theirs: current });
    return { ok: true, plan: withEntity(plan, edit.kind, edit.id, undefined) };
  }
  const now = (current as unknown as Record<string, unknown>)[edit.field];
  if (!sameValue(now, edit.before)) return fail({ code: 'stale', field: edit.field, mine: edit.after, theirs: now });
  const fields = current as unknown as Record<string, unknown>;
  const body = edit.after === undefined ? without(fields, edit.field) : { ...fields, [edit.field]: edit.after };
  return { ok: true, plan: withEntity(plan, edit.kind, edit.id, body as unknown as BodyOf[Kind]) };
};

/** The edit that takes this one back. */
export const invert = (edit: Edit): Edit => {
  if (edit.op === 'create') return { ...edit, op: 'remove' };
  if (edit.op === 'remove') return { ...edit, op: 'create' };
  return { ...edit, before: edit.after, after: edit.before };
};

/** The inverse of a sequence, in the order in which it must be applied. */
export const invertAll = (edits: readonly Edit[]): Edit[] => edits.map(invert).reverse();

/** All edits or none. */
export const applyEdits = (plan: Plan, edits: readonly Edit[]): EditResult => {
  let result: EditResult = { ok: true, plan };
  for (const edit of edits) {
    result = applyEdit(result.plan, edit);
    if (!result.ok) return result;
  }
  return result;
};

/** The edit that sets one field from what the plan holds now; `undefined` when nothing would change. */
export const setField = <K extends Kind, F extends keyof BodyOf[K] & string>(
  plan: Plan,
  kind: K,
  id: Id,
  field: F,
  after: BodyOf[K][F] | undefined,
): Edit | undefined => {
  const body = plan[kind][id];
  if (!body || sameValue(body[field], after)) return undefined;
  return { op: 'set', kind, id, field, before: body[field], after };
};
