/** The draft: the working state of the plan, with the revisions that say whether an edit is stale. */
import { sameValue, type EditProblem } from './edit';
import type { Refusal } from './kept-rules';
import type { BodyOf, Id, Kind, Plan } from './plan';

/** Revisions of the entities: kind → ID → revision. */
export type Revisions = { readonly [K in Kind]?: { readonly [id: Id]: number } };

export interface Draft {
  readonly plan: Plan;
  readonly revisions: Revisions;
  /** Number of the last change. */
  readonly lastChange: number;
}

export interface ChangedEntity {
  readonly kind: Kind;
  readonly id: Id;
  readonly rev: number;
  /** `null`: it was removed. */
  readonly body: BodyOf[Kind] | null;
}

export type EditOutcome =
  | { readonly ok: true; readonly change: number; readonly revisions: Revisions }
  | { readonly ok: false; readonly problem: EditProblem }
  | { readonly ok: false; readonly problem?: undefined; readonly refusal: Refusal };

/** The plan and its revisions with what changed since. Entities that say the same keep their identity, tables without a change too, so that
 *  nothing is worked out or drawn again for them. Input is not changed.
 */
export const withChanged = <D extends Pick<Draft, 'plan' | 'revisions'>>(
  { plan: before, revisions: known }: D,
  changed: readonly ChangedEntity[],
): Pick<Draft, 'plan' | 'revisions'> => {
  const plan = { ...before } as unknown as Record<Kind, Record<Id, BodyOf[Kind]>>;
  const revisions = { ...known } as Record<Kind, Record<Id, number>>;
  const copied = new Set<Kind>();
  for (const kind of new Set(changed.map((c) => c.kind))) revisions[kind] = { ...revisions[kind] };
  for (const { kind, id, rev, body } of changed) {
    if (body === null) Reflect.deleteProperty(revisions[kind], id);
    else revisions[kind][id] = rev;
    const old = Object.hasOwn(plan[kind], id) ? plan[kind][id]! : null;
    if (sameValue(old, body)) continue;
    if (!copied.has(kind)) plan[kind] = { ...plan[kind] };
    copied.add(kind);
    if (body === null) Reflect.deleteProperty(plan[kind], id);
    else plan[kind][id] = body;
  }
  return { plan: copied.size > 0 ? (plan as unknown as Plan) : before, revisions };
};
