import { questionNotAnswerable } from '../../../../src/core/lint/rules/question-not-answerable';
import { triggerMissing } from '../../../../src/core/lint/rules/trigger-missing';
import { triggerOnAttempt } from '../../../../src/core/lint/rules/trigger-on-attempt';
import { unitMissing } from '../../../../src/core/lint/rules/unit-missing';
import { event, planWith, property, question } from '../../../build/plan';
import { testRule } from '../test-rule';

testRule(unitMissing, {
  valid: [
    { name: 'text needs none', plan: planWith([property('tool_id', {})]) },
    { name: 'a unit of the list', plan: planWith([property('loan_days', { type: 'integer', unit: 'd' })]) },
  ],
  invalid: [
    {
      name: 'the name tells it',
      plan: planWith([property('p', { name: 'wait_minutes', type: 'integer' })]),
      path: ['property', 'p', 'unit'],
      params: { name: 'wait_minutes', problem: 'missing', proposal: 'min' },
      says: '`wait_minutes` is a number without a unit.',
      fixes: true,
    },
    {
      name: 'the name does not tell it',
      plan: planWith([property('p', { name: 'blade', type: 'number' })]),
      path: ['property', 'p', 'unit'],
      params: { name: 'blade', problem: 'missing', proposal: undefined },
      says: '`blade` is a number without a unit.',
      fixes: false,
    },
    {
      name: 'a unit off the list',
      plan: planWith([property('p', { name: 'blade', type: 'number', unit: 'cubit' })]),
      path: ['property', 'p', 'unit'],
      params: { name: 'blade', problem: 'unknown', unit: 'cubit', proposal: undefined },
      says: '`cubit` on `blade` is not a unit of the list.',
      fixes: false,
    },
  ],
});

testRule(triggerMissing, {
  valid: [{ name: 'it says when', plan: planWith([event('e', { name: 'Loan Started' })]) }],
  invalid: [
    {
      name: 'blanks say nothing',
      plan: planWith([event('e', { name: 'Loan Started', trigger: '  ' })]),
      path: ['event', 'e', 'trigger'],
      params: { name: 'Loan Started' },
      says: '`Loan Started` does not say when it fires.',
      fixes: false,
    },
  ],
});

testRule(triggerOnAttempt, {
  valid: [
    { name: 'an attempt that says so', plan: planWith([event('e', { trigger: 'The button was pressed.', triggerKind: 'attempted' })]) },
    { name: 'a completed outcome', plan: planWith([event('e', { trigger: 'The server confirmed it.' })]) },
    {
      name: 'a press, and what came of it',
      plan: planWith([event('e', { trigger: 'Somebody pressed Done and the desk saved the repair.' })]),
    },
    {
      name: 'a press that saves',
      plan: planWith([event('e', { trigger: 'Done is pressed, which saves it, and then the desk confirms it.' })]),
    },
  ],
  invalid: [
    {
      name: 'completed on a press',
      plan: planWith([event('e', { name: 'Workshop Booked', trigger: 'The button was Pressed.' })]),
      path: ['event', 'e', 'trigger'],
      params: { name: 'Workshop Booked', word: 'pressed' },
      says: '`Workshop Booked` claims a completed outcome, but its trigger speaks of “pressed”.',
      fixes: false,
    },
    {
      name: 'a press under a condition that was met before',
      plan: planWith([event('e', { name: 'Workshop Booked', trigger: 'The button is pressed when the form is completed' })]),
      path: ['event', 'e', 'trigger'],
      params: { name: 'Workshop Booked', word: 'pressed' },
      says: '`Workshop Booked` claims a completed outcome, but its trigger speaks of “pressed”.',
      fixes: false,
    },
    {
      name: 'a press after which nothing was stored',
      plan: planWith([event('e', { name: 'Workshop Booked', trigger: 'Book is pressed and nothing has to be saved, not even confirmed' })]),
      path: ['event', 'e', 'trigger'],
      params: { name: 'Workshop Booked', word: 'pressed' },
      says: '`Workshop Booked` claims a completed outcome, but its trigger speaks of “pressed”.',
      fixes: false,
    },
  ],
});

const conversion = { type: 'conversion', windowMs: 1000, overDays: 7 } as const;

testRule(questionNotAnswerable, {
  valid: [
    {
      name: 'all is planned',
      plan: planWith([
        event('e', { name: 'Loan Started' }),
        question('q', { formula: { type: 'active persons', events: [{ eventName: 'Loan Started', where: [] }], period: 'week' } }),
      ]),
    },
  ],
  invalid: [
    {
      name: 'a property is lacking',
      plan: planWith([
        event('a', { name: 'Tool Viewed' }),
        event('b', { name: 'Loan Started' }),
        question('q', {
          text: 'At Quayside?',
          formula: {
            ...conversion,
            steps: [
              { eventName: 'Tool Viewed', where: [] },
              { eventName: 'Loan Started', where: [{ property: 'branch', is: 'Quayside' }] },
            ],
          },
        }),
      ]),
      path: ['question', 'q', 'formula'],
      params: {
        text: 'At Quayside?',
        lacks: [{ what: 'property', eventName: 'Loan Started', property: 'branch', sample: 'Quayside', numeric: false, type: 'string' }],
      },
      says: '“At Quayside?” cannot be answered: `Loan Started` needs `branch`, string.',
      fixes: true,
    },
  ],
});
