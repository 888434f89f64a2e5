/** Four metrics over two events need no property; five more questions need one event and three properties. On a plan of its own. */
import { expect, test } from 'vitest';
import { applyEdits } from '../../../src/core/plan/edit';
import { entries, type Plan } from '../../../src/core/plan/plan';
import { acceptSuggestions, shareSuggestions, suggestionsOf } from '../../../src/core/plan/suggestions';
import { addLacks } from '../../../src/core/questions/add-lacks';
import { coverageOf, lackText } from '../../../src/core/questions/coverage';
import { coverageMatrix, economyOf } from '../../../src/core/questions/economy';
import type { Formula, Step } from '../../../src/core/questions/formula';
import { planWith, question } from '../../build/plan';

const on = (eventName: string): Step => ({ eventName, where: [] });
const moved = on('Crate Moved');
const dropped = on('Crate Dropped');
const joined = on('Mover Registered');

const METRICS: Record<string, Formula> = {
  active: { type: 'active persons', events: [moved], period: 'week' },
  activation: { type: 'conversion', steps: [joined, moved], windowMs: 86_400_000, overDays: 28 },
  average: { type: 'average per person', event: moved, per: 'persons with it', active: [], period: 'week' },
  retention: { type: 'retention', start: joined, returning: moved, day: 14, mode: 'on day', overDays: 56 },
};
const MORE: Record<string, Formula> = {
  hall: { type: 'top values', event: moved, property: 'crate_hall', measure: 'messages', overDays: 28 },
  weight: { type: 'total of a property', event: moved, property: 'crate_weight', period: 'week' },
  drops: { type: 'top values', event: dropped, property: 'crate_hall', measure: 'persons', overDays: 28 },
  glass: { type: 'rate of a value', event: dropped, condition: { property: 'crate_content', is: 'glass' }, of: 'messages', overDays: 28 },
  both: { type: 'share who also did', first: moved, also: dropped, overDays: 28 },
};

let ids = 0;
/** Asks the questions one after the other and adds what each lacks; how many edits that took. */
const asked = (from: Plan, formulas: Record<string, Formula>): Plan => {
  let plan = from;
  for (const [id, formula] of Object.entries(formulas)) {
    const made = applyEdits(plan, [question(`${id}-${ids++}`, { text: id, formula, order: ids })]);
    if (!made.ok) throw new Error('question refused');
    plan = made.plan;
    const coverage = coverageOf(plan, Object.values(plan.question).at(-1)!);
    if (coverage.state !== 'partly') continue;
    const added = applyEdits(
      plan,
      addLacks(plan, coverage.lacks, () => `x${ids++}`),
    );
    if (!added.ok) throw new Error('lacks refused');
    plan = added.plan;
  }
  return plan;
};
const answerable = (plan: Plan) => entries(plan, 'question').filter(([, q]) => coverageOf(plan, q).state === 'answerable').length;

test('two events answer four metrics; one event and three properties in four pairs answer five more; six pairs after the suggestions', () => {
  const four = asked(planWith([]), METRICS);
  expect([answerable(four), economyOf(four)]).toMatchObject([4, { events: 2, properties: 0, pairs: 0, answeredPerEvent: 2 }]);

  const nine = asked(four, MORE);
  expect([answerable(nine), economyOf(nine)]).toMatchObject([9, { events: 3, properties: 3, pairs: 4, answeredPerEvent: 3 }]);
  expect(Object.values(nine.property).map((p) => [p.name, p.type, p.unit])).toEqual([
    ['crate_hall', 'string', ''],
    ['crate_weight', 'number', 'kg'],
    ['crate_content', 'string', ''],
  ]);

  const [group, ...others] = suggestionsOf(nine);
  expect([group!.object, group!.events.length, [...group!.lacking.values()].flat().length, others]).toEqual(['crate', 2, 2, []]);
  const r = applyEdits(nine, acceptSuggestions(nine, [...group!.lacking]));
  expect(r.ok && economyOf(r.plan)).toMatchObject({ pairs: 6, properties: 3, events: 3 });
  expect(r.ok && suggestionsOf(r.plan)).toEqual([]);
  // As a shared set they are the same six pairs, and stay together.
  const shared = applyEdits(nine, shareSuggestions(nine, group!, 'crate-set'));
  expect(shared.ok && [economyOf(shared.plan).pairs, suggestionsOf(shared.plan)]).toEqual([6, []]);
});

test('a lack is named exactly; a drafted event is named by the naming rules, and its questions go along', () => {
  const plan = planWith([question('q', { formula: { ...METRICS['active'], events: [on('move crate')] } as Formula })]);
  const coverage = coverageOf(plan, plan.question['q']!);
  expect(coverage.state === 'partly' && coverage.lacks.map(lackText)).toEqual(['`move crate` is not in the plan']);
  const r = applyEdits(plan, coverage.state === 'partly' ? addLacks(plan, coverage.lacks, () => 'new') : []);
  if (!r.ok) throw new Error('refused');
  expect(r.plan.event['new']).toMatchObject({ name: 'Crate Moved', object: 'crate', action: 'moved', trigger: '' });
  expect(coverageOf(r.plan, r.plan.question['q']!).state).toBe('answerable');
});

test('a question that groups by a user property needs it, and warns that its values begin when it is first set', () => {
  const formula = { ...METRICS['active'], groupBy: { of: 'user property', name: 'tier' } } as Formula;
  const coverage = coverageOf(planWith([question('q', { formula })]), { formula } as never);
  expect(coverage).toMatchObject({
    state: 'partly',
    lacks: [{ what: 'event' }, { what: 'user property', name: 'tier' }],
    warnings: ['Values of `tier` begin when it is first set: earlier messages of a person have none.'],
  });
});

test('the matrix has a column for every event, and for lacks at the end', () => {
  const plan = asked(planWith([]), METRICS);
  const more = applyEdits(plan, [
    question('lack', { text: 'lack', order: 99, formula: { ...METRICS['active'], events: [on('Shelf Stocked')] } as Formula }),
  ]);
  if (!more.ok) throw new Error('refused');
  const m = coverageMatrix(more.plan, false);
  expect(m.columns.map((c) => [c.eventName, c.planned, c.questions])).toEqual([
    ['Crate Moved', true, 4],
    ['Mover Registered', true, 2],
    ['Shelf Stocked', false, 1],
  ]);
  expect(m.rows.map((r) => [r.text, r.state, [...r.needs].sort()])).toEqual([
    ['active', 'answerable', [0]],
    ['activation', 'answerable', [0, 1]],
    ['average', 'answerable', [0]],
    ['retention', 'answerable', [0, 1]],
    ['lack', 'partly', [2]],
  ]);
});
