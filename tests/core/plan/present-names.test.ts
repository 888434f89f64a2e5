/** What was written with a former name is read with the present one, as if the rename had found it there. */
import { expect, test } from 'vitest';
import { judgeHistory } from '../../../src/core/arrival/history';
import { blank } from '../../../src/core/plan/defaults';
import { applyEdits, type Edit } from '../../../src/core/plan/edit';
import { entries, type Plan } from '../../../src/core/plan/plan';
import { questionWithPresentNames, renameEvent, renameProperty, withPresentNames } from '../../../src/core/plan/rename';
import { figureOf } from '../../../src/core/questions/compute-figure';
import { figureContext } from '../../../src/core/scenario/figure-context';
import { typedFormula } from '../../../src/core/questions/typed-conditions';
import { demoPlan } from '../../build/demo-plan';
import { event, planWith, question } from '../../build/plan';
import { formulasFor, told } from '../../foreign/formulas';
import { foreignWorkspace } from '../../foreign/workspace';

const after = (plan: Plan, edits: readonly Edit[]): Plan => {
  const r = applyEdits(plan, edits);
  if (!r.ok) throw new Error(JSON.stringify(r.problem));
  return r.plan;
};

test('of each event and property of the demo, renamed: all that named it follows, wherever it was written', () => {
  const plan = demoPlan();
  let moved = 0;
  const renames = [
    ...entries(plan, 'event').map(([id]) => renameEvent(plan, id, 'Something Else', true)),
    ...entries(plan, 'property').map(([id]) => renameProperty(plan, id, 'something_else', true)),
  ];
  for (const edits of renames) {
    const renamed = after(plan, edits);
    // As if all that names it had come in afterwards, with the name that it knew.
    const later: Plan = { ...renamed, question: plan.question, definition: plan.definition, trial: plan.trial };
    const present = withPresentNames(later);
    for (const kind of ['question', 'definition', 'trial'] as const) {
      expect(present[kind]).toEqual(renamed[kind]);
      if (JSON.stringify(renamed[kind]) !== JSON.stringify(plan[kind])) moved++;
    }
    expect(withPresentNames(later)).toBe(present);
    expect(withPresentNames(renamed)).toBe(renamed);
  }
  expect(moved).toBeGreaterThan(20);
});

test('a present name is nobody’s former one; of two that claim one, the first has it', () => {
  const f = (eventName: string) => ({ type: 'active persons', events: [{ eventName, where: [] }], period: 'week' }) as const;
  const plan = planWith([
    event('a', { name: 'A', formerNames: ['Old', 'B'] }),
    event('b', { name: 'B', formerNames: ['Old'] }),
    question('old', { formula: f('Old') }),
    question('present', { formula: f('B') }),
  ]);
  expect(withPresentNames(plan).question).toMatchObject({ old: { formula: f('A') }, present: { formula: f('B') } });
  expect(questionWithPresentNames(plan, blank('question', { formula: f('Old') })).formula).toEqual(f('A'));
  expect(questionWithPresentNames(plan, blank('question', { formula: f('Never') })).formula).toEqual(f('Never'));
});

test('a question asked under a former name has the figure that it had, not 0', () => {
  const w = foreignWorkspace(7300, 25);
  const { persons } = judgeHistory(w.plan, w.messages, w.now, w.from);
  const renamed = after(w.plan, renameEvent(w.plan, w.roles.viewed, 'Renamed Since', true));
  const { persons: later } = judgeHistory(renamed, w.messages, w.now, w.from);
  let counted = 0;
  for (const formula of formulasFor(w)) {
    const asked = questionWithPresentNames(renamed, blank('question', { formula })).formula!;
    const before = told(figureOf(typedFormula(w.plan, formula).formula, figureContext(w.plan, persons, w.now)));
    expect(told(figureOf(typedFormula(renamed, asked).formula, figureContext(renamed, later, w.now)))).toEqual(before);
    if (JSON.stringify(asked) !== JSON.stringify(formula)) counted++;
  }
  expect(counted).toBeGreaterThan(3);
});
