import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { contentHash } from '../../../src/core/plan/content-hash';
import { diffPlans, editsBetween } from '../../../src/core/plan/diff';
import { parseEdit } from '../../../src/core/plan/document-schema';
import { applyEdit, applyEdits, invertAll, sameValue, setField, type Edit } from '../../../src/core/plan/edit';
import type { Plan } from '../../../src/core/plan/plan';
import { renameEvent } from '../../../src/core/plan/rename';
import { deepFreeze, event, planWith, property, question } from '../../build/plan';

const start = deepFreeze(planWith([event('e0', { name: 'Tool Viewed' }), property('p0', { name: 'tool_id' })]));

/** Random edits that fit the plan they meet. */
const editsFor = (plan: Plan, choices: readonly [number, string][]): { edits: Edit[]; plan: Plan } => {
  const edits: Edit[] = [];
  let current = plan;
  for (const [n, text] of choices) {
    const ids = Object.keys(current.event);
    const id = ids[n % Math.max(1, ids.length)];
    const edit: Edit | undefined =
      n % 3 === 0 || id === undefined
        ? event(`e${edits.length}-${n}`, { name: text })
        : n % 3 === 1
          ? setField(current, 'event', id, 'description', text)
          : { op: 'remove', kind: 'event', id, body: current.event[id]! };
    if (!edit) continue;
    const r = applyEdit(current, edit);
    if (!r.ok) continue;
    edits.push(edit);
    current = r.plan;
  }
  return { edits, plan: current };
};

const choices = fc.array(fc.tuple(fc.nat(50), fc.string()), { maxLength: 25 });

describe('edits', () => {
  test('taking back a sequence gives the plan from which it began, whatever the sequence', () => {
    fc.assert(
      fc.property(choices, (list) => {
        const { edits, plan } = editsFor(start, list);
        const back = applyEdits(deepFreeze(plan), invertAll(edits));
        expect(back.ok && sameValue(back.plan, start)).toBe(true);
      }),
      { seed: 1 },
    );
  });

  test('the difference of two plans, applied to the first, gives the second', () => {
    fc.assert(
      fc.property(choices, choices, (a, b) => {
        const x = editsFor(start, a).plan;
        const y = editsFor(start, b).plan;
        const r = applyEdits(x, editsBetween(x, y));
        expect(r.ok && contentHash(r.plan)).toBe(contentHash(y));
        expect(diffPlans(x, y).length === 0).toBe(contentHash(x) === contentHash(y));
      }),
      { seed: 2 },
    );
  });

  test('a stale edit is refused with both values, and nothing changes', () => {
    const theirs = applyEdit(start, { op: 'set', kind: 'event', id: 'e0', field: 'description', before: '', after: 'theirs' });
    const r = theirs.ok && applyEdit(theirs.plan, { op: 'set', kind: 'event', id: 'e0', field: 'description', before: '', after: 'mine' });
    expect(r).toMatchObject({ ok: false, problem: { code: 'stale', field: 'description', mine: 'mine', theirs: 'theirs' } });
  });

  test('two people on two fields of one event do not disturb each other', () => {
    const r = applyEdits(start, [
      { op: 'set', kind: 'event', id: 'e0', field: 'description', before: '', after: 'one' },
      { op: 'set', kind: 'event', id: 'e0', field: 'owner', before: '', after: 'two' },
    ]);
    expect(r.ok && r.plan.event['e0']).toMatchObject({ description: 'one', owner: 'two' });
  });

  test('edits on what is not there, or twice there, are refused; names of object members are no entities', () => {
    expect(applyEdit(start, event('e0', {}))).toMatchObject({ ok: false, problem: { code: 'exists' } });
    expect(applyEdit(start, { op: 'set', kind: 'event', id: 'constructor', field: 'name', before: '', after: 'x' })).toMatchObject({
      ok: false,
      problem: { code: 'missing' },
    });
  });

  test('the hash does not depend on the order of keys', () => {
    const turned = {
      ...start,
      event: Object.fromEntries(Object.entries(start.event).map(([k, v]) => [k, Object.fromEntries(Object.entries(v).reverse())])),
    } as unknown as Plan;
    expect(contentHash(turned)).toBe(contentHash(start));
  });

  test('a rename keeps the former name and moves formulas and counterparts along', () => {
    const plan = planWith([
      event('a', { name: 'Tool Viewed' }),
      event('b', { name: 'Loan Started', counterpart: { eventName: 'Tool Viewed', keyProperty: 'k', windowMs: 1 } }),
      question('q', { formula: { type: 'active persons', events: [{ eventName: 'Tool Viewed', where: [] }], period: 'day' } }),
    ]);
    const r = applyEdits(plan, renameEvent(plan, 'a', 'Tool Seen', true));
    expect(r.ok && r.plan.event['a']).toMatchObject({ name: 'Tool Seen', formerNames: ['Tool Viewed'] });
    expect(r.ok && r.plan.event['b']!.counterpart!.eventName).toBe('Tool Seen');
    expect(r.ok && r.plan.question['q']!.formula).toMatchObject({ events: [{ eventName: 'Tool Seen' }] });
  });
});

describe('edits from outside', () => {
  test.each([
    ['an unknown field', { op: 'set', kind: 'event', id: 'e', field: '__proto__', before: 1, after: 2 }, 'no field'],
    [
      'a control character in a name',
      { op: 'set', kind: 'event', id: 'e', field: 'name', before: '', after: 'a\u0007b' },
      'control characters',
    ],
    ['a name of 10,000 characters', { op: 'set', kind: 'event', id: 'e', field: 'name', before: '', after: 'x'.repeat(10_000) }, 'name'],
    ['a type off the list', { op: 'set', kind: 'property', id: 'p', field: 'type', before: 'string', after: 'text' }, 'type'],
    [
      'a time zone that is none',
      { op: 'set', kind: 'settings', id: 'settings', field: 'timeZone', before: 'UTC', after: 'Nowhere/Town' },
      'time zone',
    ],
    ['no edit at all', 42, ''],
  ])('%s is refused with the reason', (_, edit, reason) => {
    const r = parseEdit(edit);
    expect(r.ok).toBe(false);
    expect(!r.ok && r.detail).toContain(reason);
  });
});
