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
  /** What the person who edits wanted, and what is there now. */
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

/** Tables that belong to the caller and may be changed in place. */
export type Tables = { [K in Kind]: Record<Id, BodyOf[Kind]> };

/** Tables of one's own with what a plan holds: for long series of edits, where a copy for each would cost too much. */
export const ownTables = (plan: Plan): Tables =>
  Object.fromEntries(Object.entries(plan).map(([kind, table]) => [kind, { ...table }])) as unknown as Tables;

/** Applies one edit to tables in place; what is wrong, or nothing. */
export const applyTo = (tables: Tables, edit: Edit): EditProblem | undefined => {
  const table = tables[edit.kind];
  const current = Object.hasOwn(table, edit.id) ? table[edit.id] : undefined;
  const fail = (problem: Omit<EditProblem, 'kind' | 'id'>): EditProblem => ({ kind: edit.kind, id: edit.id, ...problem });
  if (edit.op === 'create') {
    if (current) return fail({ code: 'exists', mine: edit.body, theirs: current });
    table[edit.id] = edit.body;
    return undefined;
  }
  if (!current) return fail({ code: 'missing', mine: edit.op === 'set' ? edit.after : undefined });
  if (edit.op === 'remove') {
    if (!sameValue(current, edit.body)) return fail({ code: 'stale', mine: undefined, theirs: current });
    // eslint-disable-next-line @typescript-eslint/no-dynamic-delete
    delete table[edit.id];
    return undefined;
  }
  const fields = current as unknown as Record<string, unknown>;
  const now = fields[edit.field];
  if (!sameValue(now, edit.before)) return fail({ code: 'stale', field: edit.field, mine: edit.after, theirs: now });
  table[edit.id] = (edit.after === undefined
    ? without(fields, edit.field)
    : { ...fields, [edit.field]: edit.after }) as unknown as BodyOf[Kind];
  return undefined;
};

/** The plan after the edit.
 *  Shape: the plan that came in is not changed; untouched entities keep their identity.
 *  Errors: an edit whose `before` is no longer the value is `stale` and comes back with both values; an entity that is
 *  absent is `missing`, one that is already there `exists`. Nothing throws.
 *  Source: own design.
 */
export const applyEdit = (plan: Plan, edit: Edit): EditResult => applyEdits(plan, [edit]);

/** The edit that takes this one back. */
export const invert = (edit: Edit): Edit => {
  if (edit.op === 'create') return { ...edit, op: 'remove' };
  if (edit.op === 'remove') return { ...edit, op: 'create' };
  return { ...edit, before: edit.after, after: edit.before };
};

/** The inverse of a sequence, in the order in which it must be applied. */
export const invertAll = (edits: readonly Edit[]): Edit[] => edits.map(invert).reverse();

/** All edits or none. Each table that is touched is copied once, however many edits there are. */
export const applyEdits = (plan: Plan, edits: readonly Edit[]): EditResult => {
  const tables = { ...plan } as unknown as Tables;
  const copied = new Set<Kind>();
  for (const edit of edits) {
    if (!copied.has(edit.kind)) {
      tables[edit.kind] = { ...tables[edit.kind] };
      copied.add(edit.kind);
    }
    const problem = applyTo(tables, edit);
    if (problem) return { ok: false, problem };
  }
  return { ok: true, plan: edits.length === 0 ? plan : (tables as unknown as Plan) };
};

/** Whether a plan is as it does after these edits, which cannot be made once more: they were made already. */
export const isMade = (plan: Plan, edits: readonly Edit[]): boolean => !applyEdits(plan, edits).ok && applyEdits(plan, invertAll(edits)).ok;

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
