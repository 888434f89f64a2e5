import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { lintPlan } from '../../../src/core/lint/lint';
import { applyEdits } from '../../../src/core/plan/edit';
import type { Property, PropertyType } from '../../../src/core/plan/plan';
import { answerOf } from '../../../src/core/questions/compute-figure';
import { coverageOf } from '../../../src/core/questions/coverage';
import type { Condition, Formula } from '../../../src/core/questions/formula';
import { typedFormula, valueOfText } from '../../../src/core/questions/typed-conditions';
import { create, event, planWith, property, question } from '../../build/plan';
import { RULES, tableOf } from '../../build/messages';
import { resolvePersons } from '../../../src/core/identity/persons';

const planOf = (p: Partial<Property>, formula?: Formula) =>
  planWith([
    property('paid', p),
    event('e', { name: 'Seat Taken', properties: [{ propertyId: 'paid', required: true }] }),
    create('userProperty', 'u', { name: 'member', type: 'boolean' }),
    ...(formula ? [question('q', { formula })] : []),
  ]);
const asks = (c: Partial<Condition>): Formula => ({
  type: 'active persons',
  events: [{ eventName: 'Seat Taken', where: [{ property: 'paid', is: 'true', ...c }] }],
  period: 'day',
});

test('written before its property: true, 5 and 2.5 are counted by the type that the property got', () => {
  const rows = [
    { at: 1, name: 'Seat Taken', ids: { user: 'a' }, properties: { paid: true } },
    { at: 2, name: 'Seat Taken', ids: { user: 'b' }, properties: { paid: 5 } },
    { at: 3, name: 'Seat Taken', ids: { user: 'c' }, properties: { paid: '5' } },
  ];
  const table = tableOf(rows);
  const settings = { timeZone: 'UTC', weekStartsOn: 1, sessionGapMinutes: 30, clockToleranceSeconds: 2 };
  const context = { people: resolvePersons(table, RULES), settings, now: 600_000 };
  const messages = (type: PropertyType, is: string): number => {
    const { figure } = answerOf(typedFormula(planOf({ type }), asks({ is })).formula, context);
    return figure.type === 'active persons' ? figure.messages : NaN;
  };
  expect([messages('boolean', 'true'), messages('integer', '5'), messages('string', '5')]).toEqual([1, 1, 1]);
});

describe('a value that no message can have is told', () => {
  const problem = (p: Partial<Property>, c: Partial<Condition>): string | undefined => {
    const formula = asks(c);
    const plan = planOf(p, formula);
    const found = lintPlan(plan).filter((f) => f.code === 'condition-cannot-hold');
    const { problems } = typedFormula(plan, formula);
    // The question, the rule and the computation say the same.
    expect(found).toHaveLength(problems.length);
    const coverage = coverageOf(plan, plan.question['q']!);
    expect(coverage.state === 'answerable' && coverage.warnings).toEqual(problems);
    return problems[0];
  };
  test.each<[string, Partial<Property>, Partial<Condition>]>([
    ['true or false', { type: 'boolean' }, { is: 'maybe' }],
    ['a whole number', { type: 'integer' }, { is: '2.5' }],
    ['a number', { type: 'number' }, { is: 'many' }],
    ['is never “red”', { type: 'string', allowed: ['blue', 'green'] }, { is: 'red' }],
    ['is never “9”', { type: 'integer', min: 1, max: 5 }, { is: 9 }],
    ['is not a number', { type: 'string' }, { op: 'at least', is: 3 }],
    ['is not text', { type: 'number' }, { op: 'contains', is: '3' }],
    ['a list', { type: 'list of string' }, { is: 'x' }],
  ])('%s', (words, p, c) => expect(problem(p, c)).toContain(words));
  test.each<[Partial<Property>, Partial<Condition>]>([
    [{ type: 'boolean' }, { is: 'false' }],
    [{ type: 'integer', min: 1, max: 5 }, { is: '5' }],
    [
      { type: 'integer', max: 5 },
      { is: 7, op: 'less than' },
    ],
    [
      { type: 'string', allowed: ['blue'] },
      { is: 'red', op: 'is not' },
    ],
    [{ type: 'list of string' }, { op: 'is present' }],
    [{ type: 'object' }, { op: 'is absent' }],
    [{ type: 'timestamp' }, { op: 'contains', is: '2026' }],
  ])('but not of %o with %o', (p, c) => expect(problem(p, c)).toBeUndefined());
});

test('the fix writes the value in its type, once', () => {
  const plan = planOf({ type: 'integer' }, asks({ is: '5' }));
  const [found] = lintPlan(plan).filter((f) => f.code === 'condition-of-another-type');
  const after = applyEdits(plan, found!.fix!);
  if (!after.ok) throw new Error('stale');
  expect(lintPlan(after.plan).filter((f) => f.code === 'condition-of-another-type')).toEqual([]);
  expect(JSON.stringify(after.plan.question['q']!.formula)).toContain('"is":5');
});

test('a text whose type nobody knows is what it is written as', () => {
  fc.assert(
    fc.property(fc.oneof(fc.integer(), fc.double({ noNaN: true, noDefaultInfinity: true })), (n) => {
      expect(valueOfText(String(n))).toBe(Object.is(n, -0) ? 0 : n);
    }),
  );
  expect(['007', '1e3', ' 5', '', 'True', '+5'].map(valueOfText)).toEqual(['007', '1e3', ' 5', '', 'True', '+5']);
  expect([valueOfText('true'), valueOfText('false')]).toEqual([true, false]);
});
