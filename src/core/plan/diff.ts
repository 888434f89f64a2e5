/** What changed between two plans, entity by entity and field by field. */
import { sameValue, type Edit } from './edit';
import { KINDS, labelOf, type BodyOf, type Id, type Kind, type Plan } from './plan';

export interface Change {
  readonly kind: Kind;
  readonly id: Id;
  readonly label: string;
  readonly what: 'added' | 'removed' | 'changed';
  readonly fields: readonly { readonly field: string; readonly before: unknown; readonly after: unknown }[];
}

/** The changes from `a` to `b`, by kind in a fixed order, then by label. Empty when they say the same. */
export const diffPlans = (a: Plan, b: Plan): Change[] => {
  const out: Change[] = [];
  for (const kind of KINDS) {
    const ta = a[kind] as Record<Id, BodyOf[Kind]>;
    const tb = b[kind] as Record<Id, BodyOf[Kind]>;
    const changes: Change[] = [];
    for (const id of new Set([...Object.keys(ta), ...Object.keys(tb)])) {
      const x = ta[id];
      const y = tb[id];
      if (x === y) continue;
      if (!x) changes.push({ kind, id, label: labelOf(kind, y), what: 'added', fields: [] });
      else if (!y) changes.push({ kind, id, label: labelOf(kind, x), what: 'removed', fields: [] });
      else {
        const fx = x as unknown as Record<string, unknown>;
        const fy = y as unknown as Record<string, unknown>;
        const fields = [...new Set([...Object.keys(fx), ...Object.keys(fy)])]
          .filter((f) => !sameValue(fx[f], fy[f]))
          .map((field) => ({ field, before: fx[field], after: fy[field] }));
        if (fields.length > 0) changes.push({ kind, id, label: labelOf(kind, y), what: 'changed', fields });
      }
    }
    out.push(...changes.sort((p, q) => (p.label < q.label ? -1 : p.label > q.label ? 1 : p.id < q.id ? -1 : 1)));
  }
  return out;
};

/** The edits that lead from `a` to `b`. */
export const editsBetween = (a: Plan, b: Plan): Edit[] =>
  diffPlans(a, b).flatMap((c): Edit[] => {
    const ta = a[c.kind] as Record<Id, BodyOf[Kind]>;
    const tb = b[c.kind] as Record<Id, BodyOf[Kind]>;
    if (c.what === 'added') return [{ op: 'create', kind: c.kind, id: c.id, body: tb[c.id]! }];
    if (c.what === 'removed') return [{ op: 'remove', kind: c.kind, id: c.id, body: ta[c.id]! }];
    return c.fields.map((f) => ({ op: 'set', kind: c.kind, id: c.id, ...f }));
  });
