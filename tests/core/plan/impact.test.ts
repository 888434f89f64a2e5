/** What a change means: a rename that keeps the former name breaks nothing, whatever names the thing. */
import { expect, test } from 'vitest';
import { diffPlans } from '../../../src/core/plan/diff';
import { applyEdits, setField, type Edit } from '../../../src/core/plan/edit';
import { judgeChanges, type JudgedField } from '../../../src/core/plan/impact';
import { entries, type Plan } from '../../../src/core/plan/plan';
import { renameDefinition, renameEvent, renameProperty } from '../../../src/core/plan/rename';
import { demoPlan } from '../../build/demo-plan';
import { create, event, planWith, question } from '../../build/plan';

const after = (plan: Plan, edits: readonly (Edit | undefined)[]): Plan => {
  const r = applyEdits(plan, edits.filter((e) => e !== undefined)); // prettier-ignore
  if (!r.ok) throw new Error(JSON.stringify(r.problem));
  return r.plan;
};
const judged = (from: Plan, to: Plan): (JudgedField & { readonly of: string })[] =>
  judgeChanges(diffPlans(from, to), from, to).flatMap((c) => c.fields.map((f) => ({ ...f, of: `${c.kind} ${c.id}` })));

test('of the demo, each event, property and definition renamed: nothing breaks, and what names it only follows', () => {
  const plan = demoPlan();
  let followed = 0;
  for (const edits of [
    ...entries(plan, 'event').map(([id]) => renameEvent(plan, id, 'Something Else', true)),
    ...entries(plan, 'property').map(([id]) => renameProperty(plan, id, 'something_else', true)),
    ...entries(plan, 'definition').map(([id]) => renameDefinition(plan, id, 'Something Else')),
  ]) {
    const fields = judged(plan, after(plan, edits));
    expect(fields.filter((f) => f.impact === 'breaking')).toEqual([]);
    followed += fields.filter((f) => f.reason.startsWith('It follows a name')).length;
  }
  expect(followed).toBeGreaterThan(30);
});

test('two that change names are two renames, and a formula that asks for something else besides is no mere rename', () => {
  const f = (eventName: string, period: 'day' | 'week' = 'week') => ({ type: 'active persons', events: [{ eventName, where: [] }], period }) as const;
  const plan = planWith([event('a', { name: 'A' }), event('b', { name: 'B' }), question('q', { formula: f('A') }), question('r', { formula: f('A') })]);
  const swapped: Plan = { ...plan, event: { a: { ...plan.event['a']!, name: 'B' }, b: { ...plan.event['b']!, name: 'A' } }, question: { q: { ...plan.question['q']!, formula: f('B') }, r: { ...plan.question['r']!, formula: f('B', 'day') } } };
  const of = new Map(judged(plan, swapped).map((x) => [`${x.of} ${x.field}`, x.impact]));
  expect(of.get('question q formula')).toBe('wording');
  expect(of.get('question r formula')).toBe('breaking');
  // Left as it was, it asks for the other one now.
  const left = judged(plan, { ...swapped, question: plan.question });
  expect(left.map((x) => x.of)).toEqual(['event b', 'event a']);
}); // prettier-ignore

test('former names: what comes under them counts, or no longer does', () => {
  const plan = planWith([event('a', { name: 'A', formerNames: ['Old'] }), create('property', 'p', { name: 'p' })]);
  const set = (names: string[]) => judged(plan, after(plan, [setField(plan, 'event', 'a', 'formerNames', names)])).map((x) => [x.impact, x.reason]);
  expect(set(['Old', 'Older'])).toEqual([['additive', 'Messages under `Older` count as it, those of the past, too.']]);
  expect(set([])).toEqual([['breaking', 'Messages under `Old` are unknown from now on.']]);
  // Renamed back, its own name is no former one any longer, and is known all the same.
  const back = judged(plan, after(plan, renameEvent(plan, 'a', 'Old', true)));
  expect(back.filter((x) => x.impact === 'breaking')).toEqual([]);
  expect(judged(plan, after(plan, renameProperty(plan, 'p', 'q', false))).map((x) => x.impact)).toEqual(['breaking']);
}); // prettier-ignore
