import { expect, test } from 'vitest';
import { planWaiting } from '../../../src/core/questions/plan-waiting';
import { create, event, planWith } from '../../build/plan';

const asks = (eventName: string) =>
  create('question', `q-${eventName}`, {
    text: eventName,
    formula: {
      type: 'active persons',
      events: [{ eventName, where: [] }],
      period: 'week',
    },
  });

test('an empty plan leaves nothing open', () => {
  expect(planWaiting(planWith([]))).toEqual({ questions: 0, undefined: 0, incomplete: 0, events: 0, heldBack: 0 });
});

test('a question without a formula, one that lacks its event, one that can be answered; an event that is not ready to be built', () => {
  const plan = planWith([
    event('e', { name: 'Tool Viewed', trigger: '' }),
    create('question', 'q', { text: 'open' }),
    asks('Tool Viewed'),
    asks('Gone'),
  ]);
  expect(planWaiting(plan)).toEqual({ questions: 3, undefined: 1, incomplete: 1, events: 1, heldBack: 1 });
  // What a rule stops besides is held back, and once.
  expect(planWaiting(plan, new Set(['e'])).heldBack).toBe(1);
  expect(planWaiting(planWith([event('a', {}), event('b', {})]), new Set(['a'])).heldBack).toBe(
    planWaiting(planWith([event('a', {}), event('b', {})])).heldBack === 2 ? 2 : 1,
  );
});
