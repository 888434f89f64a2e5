/** What changed, put into a plan that is known: against building the plan anew, and with an eye on what keeps its identity. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { withChanged, type ChangedEntity, type Revisions } from '../../../src/core/plan/draft';
import { editsBetween } from '../../../src/core/plan/diff';
import { KINDS, type Id, type Kind, type Plan } from '../../../src/core/plan/plan';
import { plan as plans } from '../../build/arbitrary-plan';

/** Every entity of the second plan that differs, and every one that is gone, with the revision after it. */
const changesBetween = (a: Plan, b: Plan, known: Revisions): ChangedEntity[] => {
  const ids = new Map<Kind, Set<Id>>();
  for (const e of editsBetween(a, b)) ids.set(e.kind, (ids.get(e.kind) ?? new Set()).add(e.id));
  return [...ids].flatMap(([kind, own]) =>
    [...own].map((id) => ({
      kind,
      id,
      rev: (known[kind]?.[id] ?? 0) + 1,
      body: Object.hasOwn(b[kind], id) ? b[kind][id]! : null,
    })),
  );
};

const revisionsOf = (p: Plan): Revisions =>
  Object.fromEntries(KINDS.map((kind) => [kind, Object.fromEntries(Object.keys(p[kind]).map((id) => [id, 1]))]));

describe('a draft with what changed', () => {
  it('is the plan that it became, with a revision for each entity and none for those that are gone', () => {
    fc.assert(
      fc.property(plans, plans, (a, b) => {
        const before = { plan: a, revisions: revisionsOf(a) };
        const after = withChanged(before, changesBetween(a, b, before.revisions));
        expect(after.plan).toEqual(b);
        for (const kind of KINDS)
          expect([kind, Object.keys(after.revisions[kind] ?? {}).sort()]).toEqual([kind, Object.keys(b[kind]).sort()]);
      }),
    );
  });

  it('does not change what it was given', () => {
    fc.assert(
      fc.property(plans, plans, (a, b) => {
        const before = { plan: a, revisions: revisionsOf(a) };
        const kept = structuredClone(before);
        withChanged(before, changesBetween(a, b, before.revisions));
        expect(before).toEqual(kept);
      }),
    );
  });

  it('keeps the identity of every entity that says the same, and of the plan where all do', () => {
    fc.assert(
      fc.property(plans, (a) => {
        const before = { plan: a, revisions: revisionsOf(a) };
        const same = KINDS.flatMap((kind) =>
          Object.entries(a[kind]).map(([id, body]): ChangedEntity => ({ kind, id, rev: 7, body: structuredClone(body) })),
        );
        const after = withChanged(before, same);
        expect(after.plan).toBe(a);
        for (const { kind, id } of same) expect(after.revisions[kind]![id]).toBe(7);
        expect(withChanged(before, []).plan).toBe(a);
      }),
    );
  });

  it('leaves the tables alone in which nothing changed', () => {
    fc.assert(
      fc.property(plans, (a) => {
        const [id] = Object.keys(a.event);
        fc.pre(id !== undefined);
        const body = { ...a.event[id]!, notes: `${a.event[id]!.notes}, and more` };
        const { plan } = withChanged({ plan: a, revisions: {} }, [{ kind: 'event', id: id, rev: 2, body }]);
        for (const kind of KINDS) expect([kind, plan[kind] === a[kind]]).toEqual([kind, kind !== 'event']);
        for (const other of Object.keys(a.event)) if (other !== id) expect(plan.event[other]).toBe(a.event[other]);
      }),
    );
  });

  it('says nothing of an entity that was gone already', () => {
    fc.assert(
      fc.property(plans, (a) => {
        const { plan, revisions } = withChanged({ plan: a, revisions: {} }, [{ kind: 'source', id: 'never-there', rev: 3, body: null }]);
        expect(plan).toBe(a);
        expect(revisions.source).toEqual({});
      }),
    );
  });
});
