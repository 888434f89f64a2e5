/** Proposals brought into the draft, and what changes mean. */
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { diffPlans, editsBetween } from '../../../src/core/plan/diff';
import { applyEdits, type Edit } from '../../../src/core/plan/edit';
import { judgeChanges } from '../../../src/core/plan/impact';
import { conflictKey, mergeProposal, proposedPlan, type Choice } from '../../../src/core/plan/merge';
import { convert, areCompatible, compatibleUnits, UNITS } from '../../../src/core/plan/unit';
import type { Plan } from '../../../src/core/plan/plan';
import * as arbitrary from '../../build/arbitrary-plan';
import { create, event, planWith, property } from '../../build/plan';

const applied = (plan: Plan, edits: readonly Edit[]): Plan => {
  const r = applyEdits(plan, edits);
  if (!r.ok) throw new Error(JSON.stringify(r.problem));
  return r.plan;
};

describe('merging a proposal', () => {
  test('over a draft that did not move it is the proposal; a proposal that says nothing leaves the draft alone', () => {
    fc.assert(
      fc.property(arbitrary.plan, arbitrary.plan, (a, b) => {
        const taken = mergeProposal(a, b, a);
        expect(taken.conflicts).toEqual([]);
        expect(applied(a, taken.edits)).toEqual(b);
        expect(mergeProposal(a, a, b)).toEqual({ edits: [], conflicts: [] });
        expect(mergeProposal(a, b, b)).toEqual({ edits: [], conflicts: [] });
      }),
      { seed: 41, numRuns: 60 },
    );
  });
  test('whatever three plans meet: the edits fit the draft, and once all is decided no conflict is left', () => {
    fc.assert(
      fc.property(arbitrary.plan, arbitrary.plan, arbitrary.plan, fc.boolean(), (base, proposed, draft, mine) => {
        const open = mergeProposal(base, proposed, draft);
        applied(draft, open.edits);
        const choice: Choice = mine ? 'proposed' : 'draft';
        const decided = mergeProposal(base, proposed, draft, new Map(open.conflicts.map((c) => [conflictKey(c), choice])));
        expect(decided.conflicts).toEqual([]);
        const after = applied(draft, decided.edits);
        // Each field that both changed stands as it was decided.
        for (const c of open.conflicts)
          if (c.field !== undefined)
            expect((after[c.kind][c.id] as unknown as Record<string, unknown>)[c.field]).toEqual(mine ? c.proposed : c.draft);
      }),
      { seed: 42, numRuns: 80 },
    );
  });
  test('a field that both changed is a conflict with all three values; one that both changed alike is none', () => {
    const base = planWith([event('e', { name: 'A', trigger: 'one', owner: 'x' })]);
    const set = (field: string, before: string, after: string): Edit => ({ op: 'set', kind: 'event', id: 'e', field, before, after });
    const proposed = proposedPlan(base, [set('trigger', 'one', 'two'), set('owner', 'x', 'y')]);
    const draft = applied(base, [set('trigger', 'one', 'three'), set('owner', 'x', 'y')]);
    expect(mergeProposal(base, proposed, draft)).toEqual({
      edits: [],
      conflicts: [{ kind: 'event', id: 'e', field: 'trigger', base: 'one', proposed: 'two', draft: 'three' }],
    });
  });
});

test('restoring a version: the edits between two plans lead from the one to the other', () => {
  fc.assert(
    fc.property(arbitrary.plan, arbitrary.plan, (a, b) => {
      expect(applied(a, editsBetween(a, b))).toEqual(b);
    }),
    { seed: 43, numRuns: 60 },
  );
});

describe('breaking, additive, wording', () => {
  const base = planWith([
    create('source', 'w', { name: 'Web' }),
    property('p', { name: 'days', type: 'integer', unit: 'd', allowed: ['1', '2'], max: 28 }),
    property('o', { name: 'note' }),
    event('e', { name: 'Loan Started', trigger: 'It began.', properties: [{ propertyId: 'p', required: false }] }),
  ]);
  const judged = (edit: Edit) => {
    const to = applied(base, [edit]);
    const [c] = judgeChanges(diffPlans(base, to), base, to);
    return [c!.impact, c!.fields[0]!.reason];
  };
  const on = (kind: 'event' | 'property', id: string, field: string, after: unknown): Edit => ({
    op: 'set',
    kind,
    id,
    field,
    before: (base[kind][id] as unknown as Record<string, unknown>)[field],
    after,
  });
  test.each<[string, Edit, string, string]>([
    [
      'a trigger',
      on('event', 'e', 'trigger', 'It was asked for.'),
      'breaking',
      'It counts another moment, so figures before and after are not comparable.',
    ],
    ['a description', on('event', 'e', 'description', 'x'), 'wording', 'It is for readers alone.'],
    ['a name', on('event', 'e', 'name', 'Loan Begun'), 'breaking', 'Messages under the old name are unknown from now on.'],
    [
      'an optional property more',
      on('event', 'e', 'properties', [...base.event['e']!.properties, { propertyId: 'o', required: false }]),
      'additive',
      'May also carry `note`.',
    ],
    [
      'a required property more',
      on('event', 'e', 'properties', [...base.event['e']!.properties, { propertyId: 'o', required: true }]),
      'breaking',
      'Messages without `note` are incomplete now.',
    ],
    [
      'optional made required',
      on('event', 'e', 'properties', [{ propertyId: 'p', required: true }]),
      'breaking',
      'Messages without `days` are incomplete now.',
    ],
    ['a property less', on('event', 'e', 'properties', []), 'breaking', 'No longer promised: `days`.'],
    [
      'a source more',
      on('event', 'e', 'sources', [{ sourceId: 'w', required: true, build: 'proposed' }]),
      'additive',
      'Also sent by `Web`: counts grow from then on.',
    ],
    ['a value less', on('property', 'p', 'allowed', ['1']), 'breaking', 'No longer allowed: 2.'],
    ['a value more', on('property', 'p', 'allowed', ['1', '2', '3']), 'additive', 'Also allowed: 3.'],
    ['a lower bound above', on('property', 'p', 'max', 14), 'breaking', 'Values that were right lie outside now (28, then 14).'],
    ['no bound', on('property', 'p', 'max', undefined), 'additive', 'More values are right than before.'],
    ['another unit', on('property', 'p', 'unit', 'h'), 'breaking', 'The same number means something else: d, then h.'],
    ['whole numbers become numbers', on('property', 'p', 'type', 'number'), 'additive', 'Whole numbers are numbers too.'],
  ])('%s', (_, edit, impact, reason) => expect(judged(edit)).toEqual([impact, reason]));
  test('what is added is additive, what is removed is breaking', () => {
    expect(judged(create('event', 'x', { name: 'X' }))[0]).toBe('additive');
    expect(judged({ op: 'remove', kind: 'event', id: 'e', body: base.event['e']! })[0]).toBe('breaking');
  });
});

describe('units', () => {
  const symbols = [...UNITS.keys()];
  test('within a dimension there and back is the same; across dimensions never', () => {
    fc.assert(
      fc.property(fc.constantFrom(...symbols), fc.constantFrom(...symbols), fc.double({ min: 0.001, max: 1e6, noNaN: true }), (a, b, v) => {
        const there = convert(v, a, b);
        expect(there === undefined).toBe(!areCompatible(a, b));
        if (there !== undefined) expect(convert(there, b, a)! / v).toBeCloseTo(1, 12);
      }),
      { seed: 44, numRuns: 500 },
    );
  });
  // Common practice, no source: the pairs that people mix up.
  test.each([
    [90, 'min', 'h', 1.5],
    [2, 'd', 'h', 48],
    [1500, 'ms', 's', 1.5],
    [250, 'g', 'kg', 0.25],
    [25, '%', 'share', 0.25],
    [12.5, 'major units', 'minor units', 1250],
  ])('%d %s in %s is %d', (v, from, to, wanted) => expect(convert(v, from, to)).toBe(wanted));
  test('minor digits of the currency count: none for JPY, three for BHD', () => {
    expect([convert(500, 'minor units', 'major units', 0), convert(1.5, 'major units', 'minor units', 3)]).toEqual([500, 1500]);
    expect(compatibleUnits('kg').map((u) => u.symbol)).toEqual(['g']);
  });
});
