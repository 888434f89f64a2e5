import { identifierAsNumber } from '../../../../src/core/lint/rules/identifier-as-number';
import { numberAsText } from '../../../../src/core/lint/rules/number-as-text';
import { objectIdentifiedDifferently } from '../../../../src/core/lint/rules/object-identified-differently';
import { percentSign } from '../../../../src/core/lint/rules/percent-sign';
import { propertyConflict } from '../../../../src/core/lint/rules/property-conflict';
import { propertyForNoQuestion } from '../../../../src/core/lint/rules/property-for-no-question';
import { sameObjectLacks } from '../../../../src/core/lint/rules/same-object-lacks';
import { sampleMisfit } from '../../../../src/core/lint/rules/sample-misfit';
import { samplesMissing } from '../../../../src/core/lint/rules/samples-missing';
import { valuesUnbounded } from '../../../../src/core/lint/rules/values-unbounded';
import type { EventProperty } from '../../../../src/core/plan/plan';
import { create, event, planWith, property, question } from '../../../build/plan';
import { testRule } from '../test-rule';

const carries = (...ids: string[]): EventProperty[] => ids.map((propertyId) => ({ propertyId, required: true }));
const step = { eventName: 'Loan Started', where: [] };
const total = question('q', {
  text: 'Loan-days?',
  formula: { type: 'total of a property', event: step, property: 'loan_days', period: 'week' },
});

testRule(samplesMissing, {
  valid: [{ name: 'two', plan: planWith([property('p', { samples: ['a', 'b'] })]) }],
  invalid: [
    {
      name: 'one, and a list to take another from',
      plan: planWith([property('p', { samples: ['saws'], allowed: ['drills', 'saws'] })]),
      path: ['property', 'p', 'samples'],
      params: { name: 'p', has: 1 },
      says: '`p` has one sample; two are asked for.',
      fixes: true,
    },
    {
      name: 'none',
      plan: planWith([property('p', {})]),
      path: ['property', 'p', 'samples'],
      params: { name: 'p', has: 0 },
      says: '`p` has no sample; two are asked for.',
      fixes: false,
    },
    {
      name: 'two properties, of which one has a list to take from',
      plan: planWith([property('p', {}), property('q', { allowed: ['drills', 'saws'] })]),
      hits: [
        { path: ['property', 'p', 'samples'], params: { name: 'p', has: 0 }, says: '`p` has no sample; two are asked for.', fixes: false },
        { path: ['property', 'q', 'samples'], params: { name: 'q', has: 0 }, says: '`q` has no sample; two are asked for.', fixes: true },
      ],
    },
  ],
});

testRule(sampleMisfit, {
  valid: [
    { name: 'all fit', plan: planWith([property('p', { type: 'integer', min: 1, max: 28, samples: ['1', '28'] })]) },
    { name: 'an object as JSON', plan: planWith([property('p', { type: 'object', samples: ['{"a":1}'] })]) },
    { name: 'a date of its format', plan: planWith([property('p', { format: 'date', samples: ['2026-02-28'] })]) },
  ],
  invalid: [
    {
      name: 'text for a number',
      plan: planWith([property('p', { type: 'integer', samples: ['three', '4'] })]),
      path: ['property', 'p', 'samples'],
      params: { name: 'p', sample: 'three', misfit: 'type' },
      says: 'The sample “three” of `p` is not of its type.',
      fixes: true,
    },
    {
      name: 'out of range',
      plan: planWith([property('p', { type: 'integer', max: 28, samples: ['99'] })]),
      path: ['property', 'p', 'samples'],
      params: { name: 'p', sample: '99', misfit: 'range' },
      says: 'The sample “99” of `p` lies outside its range.',
      fixes: true,
    },
    {
      name: 'off its list',
      plan: planWith([property('p', { allowed: ['drills'], samples: ['saws'] })]),
      path: ['property', 'p', 'samples'],
      params: { name: 'p', sample: 'saws', misfit: 'values' },
      says: 'The sample “saws” of `p` is not among its allowed values.',
      fixes: true,
    },
    {
      name: 'against its pattern',
      plan: planWith([property('p', { pattern: '^T-\\d{4}$', samples: ['T-12'] })]),
      path: ['property', 'p', 'samples'],
      params: { name: 'p', sample: 'T-12', misfit: 'pattern' },
      says: 'The sample “T-12” of `p` does not match its pattern.',
      fixes: true,
    },
    {
      name: 'a day that does not exist',
      plan: planWith([property('p', { format: 'date', samples: ['2026-02-30'] })]),
      path: ['property', 'p', 'samples'],
      params: { name: 'p', sample: '2026-02-30', misfit: 'format' },
      says: 'The sample “2026-02-30” of `p` is not of its format.',
      fixes: true,
    },
  ],
});

testRule(percentSign, {
  valid: [{ name: 'the number alone', plan: planWith([property('p', { type: 'number', unit: '%', samples: ['25', '50'] })]) }],
  invalid: [
    {
      name: 'the sign in the value',
      plan: planWith([property('p', { samples: ['25 %', '50%'] })]),
      path: ['property', 'p', 'samples'],
      params: { name: 'p', sample: '25 %' },
      says: 'The sample “25 %” of `p` carries its percent sign.',
      fixes: true,
    },
  ],
});

testRule(numberAsText, {
  valid: [
    {
      name: 'a number',
      plan: planWith([
        property('p', { name: 'loan_days', type: 'integer' }),
        event('e', { name: 'Loan Started', properties: carries('p') }),
        total,
      ]),
    },
  ],
  invalid: [
    {
      name: 'text that a question adds up',
      plan: planWith([property('p', { name: 'loan_days' }), event('e', { name: 'Loan Started', properties: carries('p') }), total]),
      path: ['property', 'p', 'type'],
      params: { name: 'loan_days', question: 'Loan-days?' },
      says: '“Loan-days?” calculates on `loan_days`, which is kept as text.',
      fixes: true,
    },
  ],
});

testRule(identifierAsNumber, {
  valid: [
    { name: 'a measure', plan: planWith([property('p', { name: 'loan_days', type: 'integer', unit: 'd' })]) },
    { name: 'a count called number', plan: planWith([property('p', { name: 'tool_number', type: 'integer', unit: 'count' })]) },
  ],
  invalid: [
    {
      name: 'an ID',
      plan: planWith([property('p', { name: 'tool_id', type: 'integer' })]),
      path: ['property', 'p', 'type'],
      params: { name: 'tool_id' },
      says: '`tool_id` is digits on which nothing is calculated; keep it as text.',
      fixes: true,
    },
    {
      name: 'a postcode',
      plan: planWith([property('p', { name: 'branch_postcode', type: 'number' })]),
      path: ['property', 'p', 'type'],
      params: { name: 'branch_postcode' },
      says: '`branch_postcode` is digits on which nothing is calculated; keep it as text.',
      fixes: true,
    },
  ],
});

const twins = (fields: object) =>
  planWith([
    property('a', { name: 'loan_time', type: 'integer', unit: 'd' }),
    property('b', { name: 'loan_time', type: 'integer', unit: 'd', ...fields }),
    event('e', { name: 'Loan Started', properties: carries('a') }),
  ]);

testRule(propertyConflict, {
  valid: [{ name: 'defined alike', plan: twins({}) }],
  invalid: [
    {
      name: 'another unit of the same dimension',
      plan: twins({ unit: 'h' }),
      path: ['property', 'b', 'unit'],
      params: { name: 'loan_time', differs: 'unit', here: 'h', there: 'd', convertible: true, on: '`Loan Started`' },
      says: '`loan_time` has another unit here (h) than on `Loan Started` (d). The one can be converted to the other.',
      fixes: true,
    },
    {
      name: 'another dimension is never converted',
      plan: twins({ unit: 'kg' }),
      path: ['property', 'b', 'unit'],
      params: { name: 'loan_time', differs: 'unit', here: 'kg', there: 'd', convertible: false, on: '`Loan Started`' },
      says: '`loan_time` has another unit here (kg) than on `Loan Started` (d).',
      fixes: true,
    },
    {
      name: 'another type',
      plan: twins({ type: 'string' }),
      path: ['property', 'b', 'type'],
      params: { name: 'loan_time', differs: 'type', here: 'string', there: 'integer', convertible: false, on: '`Loan Started`' },
      says: '`loan_time` has another type here (string) than on `Loan Started` (integer).',
      fixes: true,
    },
    {
      name: 'another list',
      plan: twins({ allowed: ['3', '7'] }),
      path: ['property', 'b', 'allowed'],
      params: { name: 'loan_time', differs: 'values', here: '3, 7', there: 'any', convertible: false, on: '`Loan Started`' },
      says: '`loan_time` has another list of values here (3, 7) than on `Loan Started` (any).',
      fixes: true,
    },
  ],
});

testRule(objectIdentifiedDifferently, {
  valid: [
    {
      name: 'all by one',
      plan: planWith([
        property('i', { name: 'tool_id', describes: 'tool' }),
        property('n', { name: 'tool_name', describes: 'tool' }),
        event('a', { properties: carries('i', 'n') }),
        event('b', { properties: carries('i') }),
      ]),
    },
  ],
  invalid: [
    {
      name: 'the name here, the number there',
      plan: planWith([
        property('i', { name: 'tool_id', describes: 'tool' }),
        property('n', { name: 'tool_name', describes: 'tool' }),
        event('a', { name: 'Tool Viewed', properties: carries('i') }),
        event('b', { name: 'Tool Borrowed', properties: carries('i') }),
        event('c', { name: 'Tool Returned', properties: carries('n') }),
      ]),
      path: ['event', 'c', 'properties'],
      params: { object: 'tool', event: 'Tool Returned', by: 'tool_name', other: 'tool_id', otherEvent: 'Tool Viewed' },
      says: '`Tool Returned` says which tool by `tool_name`, `Tool Viewed` by `tool_id`: the events cannot be compared.',
      fixes: true,
    },
  ],
});

testRule(sameObjectLacks, {
  valid: [
    {
      name: 'a shared set keeps them together',
      plan: planWith([
        property('p', {}),
        create('sharedSet', 's', { name: 'tool', properties: carries('p') }),
        event('a', { object: 'tool', sharedSets: ['s'] }),
        event('b', { object: 'tool', sharedSets: ['s'] }),
      ]),
    },
  ],
  invalid: [
    {
      name: 'one lacks what the other has',
      plan: planWith([
        property('p', { name: 'branch' }),
        event('a', { name: 'Tool Viewed', object: 'tool', properties: carries('p') }),
        event('b', { name: 'Tool Borrowed', object: 'tool' }),
      ]),
      path: ['event', 'b', 'properties'],
      params: { name: 'Tool Borrowed', object: 'tool', properties: ['branch'] },
      says: 'Other events on tool carry `branch`; `Tool Borrowed` does not.',
      fixes: true,
    },
  ],
});

testRule(valuesUnbounded, {
  valid: [
    { name: 'a list', plan: planWith([property('p', { description: 'One of the branches.', allowed: ['Quayside'] })]) },
    { name: 'no promise', plan: planWith([property('p', { description: 'What was typed.' })]) },
  ],
  invalid: [
    {
      name: 'few values expected',
      plan: planWith([property('p', { distinct: 3 })]),
      path: ['property', 'p', 'allowed'],
      params: { name: 'p', because: 'only 3 different values are expected' },
      says: '`p` allows any value, though only 3 different values are expected.',
      fixes: false,
    },
    {
      name: 'the description promises one',
      plan: planWith([property('p', { description: 'One of the three branches.' })]),
      path: ['property', 'p', 'allowed'],
      params: { name: 'p', because: 'its description says “One of”' },
      says: '`p` allows any value, though its description says “One of”.',
      fixes: false,
    },
  ],
});

testRule(propertyForNoQuestion, {
  valid: [
    { name: 'kept with a reason', plan: planWith([property('p', { keepReason: 'Bookkeeping.' })]) },
    {
      name: 'a confirmation is joined by it',
      plan: planWith([
        property('p', { name: 'loan_id' }),
        event('e', { properties: carries('p'), counterpart: { eventName: 'x', keyProperty: 'loan_id', windowMs: 1 } }),
      ]),
    },
    {
      name: 'a question adds it up',
      plan: planWith([
        property('p', { name: 'loan_days', type: 'integer' }),
        event('e', { name: 'Loan Started', properties: carries('p') }),
        total,
      ]),
    },
  ],
  invalid: [
    {
      name: 'nobody asks',
      plan: planWith([property('p', { name: 'deposit' })]),
      path: ['property', 'p', 'keepReason'],
      params: { name: 'deposit' },
      says: '`deposit` is without a question. Ask one, retire it, or write down why it is kept.',
      fixes: false,
    },
  ],
});
