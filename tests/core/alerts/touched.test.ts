import { expect, test } from 'vitest';
import { questionsTouched, rulesTouched, touchedBeyond } from '../../../src/core/alerts/touched';
import { FIRST_RULE } from '../../../src/core/alerts/default-rule';
import { create, event, planWith, question } from '../../build/plan';

const asks = (eventName: string) => ({
  formula: { type: 'active persons' as const, events: [{ eventName, where: [] }], period: 'week' as const },
});
const plan = planWith([
  create('source', 'web', { name: 'Web' }),
  event('v', { name: 'Tool Viewed', sources: [{ sourceId: 'web', required: true, build: 'built' }] }),
  event('o', { name: 'Other' }),
  question('q', { text: 'Who looks?', ...asks('Tool Viewed') }),
  question('r', { text: 'Who else?', ...asks('Tool Viewed') }),
  question('s', { text: 'Not asked', ...asks('Other') }),
]);
const rule = (name: string, more: object) => ({ ...FIRST_RULE, name, ...more });
const rules = [rule('All', {}), rule('Views', { events: ['Tool Viewed'] }), rule('Page', { sources: ['web'] })];
const held = { author: 'Ana', fellAt: null };
const fell = { author: 'Bo', fellAt: 5 };

test('sign-offs that hold of questions that ask for it, and rules that name it; a rule about everything goes on', () => {
  expect(questionsTouched(plan, 'event', 'v')).toEqual(['q', 'r']);
  const signOffs = new Map([['q', [held, fell]], ['r', [fell, held]], ['s', [held]]]); // prettier-ignore
  expect(touchedBeyond(plan, 'event', 'v', rules, signOffs)).toEqual([
    { what: 'sign-off', label: 'Who looks?', how: 'by Ana; falls when it is published' },
    { what: 'alert rule', label: 'Views', how: 'is about it, and will tell nothing' },
  ]);
  expect(touchedBeyond(plan, 'source', 'web', rules, signOffs).map((t) => t.label)).toEqual(['Page']);
  expect(touchedBeyond(plan, 'event', 'o', rules, new Map())).toEqual([]);
  // A source that is called like an event is another thing.
  expect(rulesTouched(planWith([create('source', 'x', { name: 'Tool Viewed' })]), 'source', 'x', rules)).toEqual([]);
});
