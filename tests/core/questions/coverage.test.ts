import { expect, test } from 'vitest';
import { addLacks } from '../../../src/core/questions/add-lacks';
import { coverageOf, lackText } from '../../../src/core/questions/coverage';
import { applyEdits } from '../../../src/core/plan/edit';
import { blank } from '../../../src/core/plan/defaults';
import type { Formula, Step } from '../../../src/core/questions/formula';
import { deepFreeze, event, planWith, property } from '../../build/plan';

const step = (eventName: string, where: Step['where'] = []): Step => ({ eventName, where });
const asking = (formula: Formula | null) => blank('question', { text: 'q', formula });
const conversion = (...steps: Step[]): Formula => ({ type: 'conversion', steps, windowMs: 1000, overDays: 7 });

const plan = deepFreeze(
  planWith([event('v', { name: 'Tool Viewed' }), event('l', { name: 'Loan Started' }), property('b', { name: 'branch' })]),
);
let n = 0;
const newId = () => `new-${n++}`;

test('a question without a formula, or with an open end, is undefined and says why', () => {
  expect(coverageOf(plan, asking(null))).toMatchObject({ state: 'undefined', reason: 'no formula is chosen' });
  expect(coverageOf(plan, asking({ type: 'active persons', events: [], period: 'week' }))).toMatchObject({
    reason: expect.stringContaining('“active” needs the event') as string,
  });
  expect(coverageOf(plan, asking(conversion(step('Tool Viewed'))))).toMatchObject({ state: 'undefined' });
  expect(coverageOf(plan, asking(conversion(step('Tool Viewed'), step(''))))).toMatchObject({ reason: 'an event is still open' });
});

test('what the plan lacks is named exactly, and one action adds exactly that', () => {
  const q = asking(
    conversion(
      step('Tool Viewed', [{ property: 'shelf_height', is: 3 }]),
      step('Loan Started', [{ property: 'branch', is: 'Quayside' }]),
      step('Tool Praised', [{ property: 'branch', is: 'Quayside' }]),
    ),
  );
  const c = coverageOf(plan, q);
  if (c.state !== 'partly') throw new Error(c.state);
  expect(c.lacks.map(lackText)).toEqual([
    '`Tool Viewed` needs `shelf_height`, integer',
    '`Loan Started` needs `branch`, string',
    '`Tool Praised` is not in the plan',
    '`Tool Praised` needs `branch`, string',
  ]);
  const r = applyEdits(plan, addLacks(plan, c.lacks, newId));
  if (!r.ok) throw new Error('does not apply');
  expect(coverageOf(r.plan, q).state).toBe('answerable');
  // One property of the name `branch` in all, one new event, one new property, nothing else.
  expect(Object.keys(r.plan.property)).toHaveLength(2);
  expect(Object.keys(r.plan.event)).toHaveLength(3);
  expect(Object.values(r.plan.event).find((e) => e.name === 'Tool Praised')).toMatchObject({
    object: 'tool',
    action: 'praised',
    trigger: '',
  });
});

test('another formula needs other things', () => {
  expect(coverageOf(plan, asking({ type: 'active persons', events: [step('Loan Start')], period: 'day' }))).toMatchObject({
    state: 'partly',
    lacks: [{ what: 'event', eventName: 'Loan Start', nearest: 'Loan Started' }],
  });
  expect(coverageOf(plan, asking({ type: 'active persons', events: [step('Loan Started')], period: 'day' })).state).toBe('answerable');
});

test('a former name still counts as planned', () => {
  const renamed = planWith([event('v', { name: 'Tool Seen', formerNames: ['Tool Viewed'] })]);
  expect(coverageOf(renamed, asking({ type: 'active persons', events: [step('Tool Viewed')], period: 'day' })).state).toBe('answerable');
});
