/** Renaming and replacing events and definitions: who names them follows, and nothing else. */
import { expect, test } from 'vitest';
import { applyEdits, type Edit } from '../../../src/core/plan/edit';
import type { Plan } from '../../../src/core/plan/plan';
import { referencesTo } from '../../../src/core/plan/references';
import { renameDefinition, renameEvent, renameProperty, replaceEvent } from '../../../src/core/plan/rename';
import { isMadeOf } from '../../../src/core/definitions/named';
import type { Formula } from '../../../src/core/questions/formula';
import { needsOf } from '../../../src/core/questions/coverage';
import { create, event, planWith, property, question } from '../../build/plan';

const active = (eventName: string, ...colours: string[]): Formula => ({
  type: 'active persons',
  events: [{ eventName, where: colours.map((is) => ({ property: 'colour', is })) }],
  period: 'week',
});
const red = { match: 'all', conditions: [{ subject: { of: 'property', name: 'colour' }, op: 'is', values: ['red'] }], groups: [] } as const;
const plan = planWith([
  property('p', { name: 'colour' }),
  event('e', { name: 'Tool Viewed', properties: [{ propertyId: 'p', required: true }] }),
  event('other', { name: 'Loan Started' }),
  create('definition', 'seen', { name: 'Seen', source: { of: 'events', names: ['Tool Viewed', 'Tool viewed'] }, where: red }),
  create('definition', 'again', { name: 'Again', source: { of: 'events', names: ['Seen'] }, changes: [{ what: 'drop', name: 'colour' }] }),
  create('definition', 'self', { name: 'Loan Started', source: { of: 'events', names: ['Loan Started', 'loan_started'] } }),
  question('q1', { formula: active('Seen', 'red') }),
  question('q2', { formula: active('Tool Viewed', 'red') }),
]);
const after = (edits: readonly Edit[]): Plan => {
  const r = applyEdits(plan, edits);
  if (!r.ok) throw new Error(JSON.stringify(r.problem));
  return r.plan;
};
const namesIn = (p: Plan): string[] => Object.values(p.question).flatMap((q) => needsOf(q).map((n) => n.eventName));
const madeOf = (p: Plan, name: string): string[] => Object.entries(p.definition).flatMap(([id, d]) => (isMadeOf(d, name) ? [id] : [])); // prettier-ignore

test('a renamed definition is followed by questions and definitions; it keeps no former name, since no message has it', () => {
  const p = after(renameDefinition(plan, 'seen', 'Looked At'));
  expect([namesIn(p), madeOf(p, 'Looked At'), madeOf(p, 'Seen')]).toEqual([['Looked At', 'Tool Viewed'], ['again'], []]);
  expect(p.definition['seen']).not.toHaveProperty('formerNames');
  expect(renameDefinition(plan, 'seen', 'Seen')).toEqual([]);
});

test('one that unites messages under its own name goes on taking them when it is renamed', () => {
  const p = after(renameDefinition(plan, 'self', 'Borrowed'));
  expect(p.definition['self']).toMatchObject({ name: 'Borrowed', source: { names: ['Loan Started', 'loan_started'] } });
});

test('a renamed event is followed by what is made of it; a renamed property by conditions and changes on its messages', () => {
  const p = after(renameEvent(plan, 'e', 'Tool Opened', true));
  expect([madeOf(p, 'Tool Opened'), namesIn(p)]).toEqual([['seen'], ['Seen', 'Tool Opened']]);
  const q = after(renameProperty(plan, 'p', 'shade', true));
  expect(q.definition['seen']!.where.conditions[0]!.subject).toEqual({ of: 'property', name: 'shade' });
});

test('replaced everywhere: questions and definitions, but for the one that takes its place', () => {
  const p = after(replaceEvent(plan, 'Seen', 'Loan Started'));
  expect([namesIn(p), madeOf(p, 'Seen'), madeOf(p, 'Loan Started')]).toEqual([['Loan Started', 'Tool Viewed'], [], ['again', 'self']]);
  // A narrow event takes the place of the broad one that it is made of, and stays made of it.
  const narrow = after(replaceEvent(plan, 'Tool Viewed', 'Seen'));
  expect([namesIn(narrow), madeOf(narrow, 'Tool Viewed')]).toEqual([['Seen', 'Seen'], ['seen']]);
  expect(replaceEvent(plan, 'Seen', 'Seen')).toEqual([]);
});

test('who refers to a definition, an event or a property is told, through definitions too', () => {
  const to = (...[kind, id]: Parameters<typeof referencesTo> extends [Plan, ...infer R] ? R : never): string[] =>
    referencesTo(plan, kind, id).map((r) => `${r.kind} ${r.id}: ${r.how}`);
  expect(to('definition', 'seen')).toEqual(['question q1: asks about it', 'definition again: is made of it']);
  expect(to('event', 'e')).toEqual(['question q2: asks about it', 'definition seen: is made of it']);
  expect(to('property', 'p')).toEqual([
    'event e: carries it',
    'question q1: asks about it',
    'question q2: asks about it',
    'definition seen: names it',
    'definition again: names it',
  ]);
});
