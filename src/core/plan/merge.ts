/** Bringing a proposal into the draft: what goes in on its own, and what two people changed in two ways. */
import { editsBetween } from './diff';
import { applyEdits, sameValue, type Edit } from './edit';
import type { BodyOf, Id, Kind, Plan } from './plan';

export interface MergeConflict {
  readonly kind: Kind;
  readonly id: Id;
  /** `undefined`: the whole entity was added or removed. */
  readonly field: string | undefined;
  readonly base: unknown;
  /** As proposed; `undefined`: removed. */
  readonly proposed: unknown;
  /** As the draft has it; `undefined`: removed. */
  readonly draft: unknown;
}

export interface Merge {
  /** Edits that fit the draft as it is, in an order in which they apply. */
  readonly edits: readonly Edit[];
  readonly conflicts: readonly MergeConflict[];
}

/** Which side a conflict was decided for. */
export type Choice = 'proposed' | 'draft';
export const conflictKey = (c: Pick<MergeConflict, 'kind' | 'id' | 'field'>): string => JSON.stringify([c.kind, c.id, c.field ?? null]);

/** Three-way merge of a proposal into the draft.
 *  Shape: `edits` import all that only the proposal changed, and each conflict that was decided for it; `conflicts` are the fields
 *  that both sides changed in different ways and that nobody has decided yet. What both changed alike is no conflict.
 *  The plans that come in are not changed.
 */
export const mergeProposal = (base: Plan, proposed: Plan, draft: Plan, decided: ReadonlyMap<string, Choice> = new Map()): Merge => {
  const edits: Edit[] = [];
  const conflicts: MergeConflict[] = [];
  const settle = (c: MergeConflict, takeProposed: () => void) => {
    const choice = decided.get(conflictKey(c));
    if (choice === 'proposed') takeProposed();
    else if (choice === undefined) conflicts.push(c);
  };
  for (const e of editsBetween(base, proposed)) {
    const { kind, id } = e;
    const now = (draft[kind] as Record<Id, BodyOf[Kind]>)[id];
    if (e.op === 'create') {
      if (!now) edits.push(e);
      else if (!sameValue(now, e.body))
        settle({ kind, id, field: undefined, base: undefined, proposed: e.body, draft: now }, () =>
          edits.push({ op: 'remove', kind, id, body: now }, e),
        );
    } else if (e.op === 'remove') {
      if (!now) continue;
      if (sameValue(now, e.body)) edits.push(e);
      else settle({ kind, id, field: undefined, base: e.body, proposed: undefined, draft: now }, () => edits.push({ ...e, body: now }));
    } else {
      if (!now) {
        const whole = (proposed[kind] as Record<Id, BodyOf[Kind]>)[id]!;
        const was = (base[kind] as Record<Id, BodyOf[Kind]>)[id];
        const c = { kind, id, field: undefined, base: was, proposed: whole, draft: undefined };
        const known = edits.some((x) => x.kind === kind && x.id === id) || conflicts.some((x) => x.kind === kind && x.id === id);
        if (!known) settle(c, () => edits.push({ op: 'create', kind, id, body: whole }));
        continue;
      }
      const value = (now as unknown as Record<string, unknown>)[e.field];
      if (sameValue(value, e.after)) continue;
      if (sameValue(value, e.before)) edits.push(e);
      else settle({ kind, id, field: e.field, base: e.before, proposed: e.after, draft: value }, () => edits.push({ ...e, before: value }));
    }
  }
  return { edits, conflicts };
};

/** The plan of a proposal: its base with its edits. */
export const proposedPlan = (base: Plan, edits: readonly Edit[]): Plan => {
  const r = applyEdits(base, edits);
  if (!r.ok) throw new Error('a proposal holds edits that do not fit its base');
  return r.plan;
};
