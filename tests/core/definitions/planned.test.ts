/** Definitions as events of the plan: what they carry, what a question needs of them, and what that comes down to. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { copied } from '../../../src/core/definitions/copied';
import type { Change, Definition } from '../../../src/core/definitions/definition';
import { definitionNamed, rawNeeds, withDefinedEvents } from '../../../src/core/definitions/planned';
import { eventNamed, plannedPropertiesOf } from '../../../src/core/plan/plan-index';
import { pathOf, putAt, refOf, refOfProperty, refText, type PropertyRef } from '../../../src/core/plan/property-path';
import { addLacks } from '../../../src/core/questions/add-lacks';
import { coverageOf } from '../../../src/core/questions/coverage';
import { typedFormula } from '../../../src/core/questions/typed-conditions';
import type { Formula } from '../../../src/core/questions/formula';
import { applyEdits } from '../../../src/core/plan/edit';
import { blank } from '../../../src/core/plan/defaults';
import { create, event, planWith, property, question } from '../../build/plan';

const EVERYTHING: Definition['where'] = { match: 'all', conditions: [], groups: [] };
const PATHS: readonly PropertyRef[] = ['a', 'b', ['o', 'x'], ['o', 'y']];
const properties = PATHS.map((ref) => {
  const path = pathOf(ref);
  return property(refText(ref), { name: path.at(-1)!, within: path.slice(0, -1) });
});
const base = [
  ...properties,
  event('e', { name: 'Tool Viewed', properties: PATHS.map((ref) => ({ propertyId: refText(ref), required: true })) }),
];
const carried = (changes: readonly Change[]): string[] => {
  const plan = withDefinedEvents(
    planWith([...base, create('definition', 'd', { name: 'Seen', source: { of: 'events', names: ['Tool Viewed'] }, changes })]),
  );
  return plannedPropertiesOf(plan, eventNamed(plan, 'Seen')![0])
    .map((p) => refText(refOfProperty(p.property)))
    .sort();
};

test('what a defined event carries by the plan is what its messages carry', () => {
  const ref = fc.constantFrom<PropertyRef>('a', 'b', ['o', 'x'], ['o', 'y'], 'o', 'new');
  const change: fc.Arbitrary<Change> = fc.oneof(
    fc.record({ what: fc.constant('set' as const), name: ref.filter((r) => refText(r) !== 'o'), value: fc.constant(3) }),
    fc.record({ what: fc.constant('rename' as const), name: ref, to: fc.constantFrom('a', 'x', 'z') }),
    fc.record({ what: fc.constant('drop' as const), name: ref }),
  );
  fc.assert(
    fc.property(fc.array(change, { maxLength: 4 }), (changes) => {
      const message: Record<string, unknown> = {};
      for (const r of PATHS) putAt(message, r, 1);
      const { values } = copied(message, changes);
      const leaves = (v: unknown, path: readonly string[]): string[] =>
        typeof v === 'object' && v !== null ? Object.entries(v).flatMap(([k, x]) => leaves(x, [...path, k])) : [refText(refOf(path))];
      expect(carried(changes)).toEqual(leaves(values, []).sort());
    }),
    { seed: 21, numRuns: 2000 },
  );
});

test('a set value has its type, and is all that the plan allows: a condition on another one is told', () => {
  const plan = planWith([
    ...base,
    create('definition', 'd', {
      name: 'Seen',
      source: { of: 'events', names: ['Tool Viewed'] },
      changes: [{ what: 'set', name: 'kind', value: 7 }],
    }),
  ]);
  const f: Formula = { type: 'active persons', events: [{ eventName: 'Seen', where: [{ property: 'kind', is: 8 }] }], period: 'week' };
  expect(typedFormula(plan, f).problems.join(' ')).toContain('never');
  expect(coverageOf(plan, blank('question', { formula: f })).state).toBe('answerable');
});

test('a question over definitions is answerable; what lacks is added to the events that they are made of', () => {
  const plan = planWith([
    ...base,
    create('definition', 'd1', {
      name: 'Seen',
      source: { of: 'events', names: ['Tool Viewed'] },
      changes: [{ what: 'rename', name: 'weight', to: 'kilos' }],
    }),
    create('definition', 'd2', { name: 'Pressed', source: { of: 'interactions' } }),
    question('q', { formula: { type: 'total of a property', event: { eventName: 'Seen', where: [] }, property: 'kilos', period: 'week' } }),
  ]);
  const coverage = coverageOf(plan, plan.question['q']!);
  expect(coverage.state).toBe('partly');
  if (coverage.state !== 'partly') return;
  let n = 0;
  const r = applyEdits(
    plan,
    addLacks(plan, coverage.lacks, () => `new-${++n}`),
  );
  if (!r.ok) throw new Error(JSON.stringify(r.problem));
  expect(plannedPropertiesOf(r.plan, 'e').map((p) => p.property.name)).toContain('weight');
  expect(coverageOf(r.plan, r.plan.question['q']!).state).toBe('answerable');
  // Of interactions nothing can be asked: no edit, rather than a property that nobody carries.
  const asks = (name: string): Formula => ({
    type: 'active persons',
    events: [{ eventName: 'Pressed', where: [{ property: name, op: 'is present', is: '' }] }],
    period: 'week',
  });
  const lacking = coverageOf(plan, blank('question', { formula: asks('shade') }));
  expect(lacking.state === 'partly' && addLacks(plan, lacking.lacks, () => 'x')).toEqual([]);
  expect(coverageOf(plan, blank('question', { formula: { ...asks('x'), events: [{ eventName: 'Pressed', where: [{ property: ['element', 'text'], is: 'Go' }] }] } as Formula })).state).toBe('answerable'); // prettier-ignore
});

test('what is read of a defined event comes down to the events that arrive: properties before their rename, and those of conditions', () => {
  const plan = planWith([
    ...base,
    create('definition', 'd1', {
      name: 'Seen',
      source: { of: 'events', names: ['Tool Viewed', 'Seen'] },
      where: { ...EVERYTHING, conditions: [{ subject: { of: 'property', name: 'b' }, op: 'is', values: [1] }] },
      changes: [{ what: 'rename', name: 'a', to: 'c' }],
    }),
    create('definition', 'd2', { name: 'Again', source: { of: 'events', names: ['Seen'] } }),
    create('definition', 'd3', { name: 'Round', source: { of: 'events', names: ['About'] } }),
    create('definition', 'd4', { name: 'About', source: { of: 'events', names: ['Round'] } }),
  ]);
  const needs = rawNeeds(plan, 'Again', ['c']);
  expect(needs.map((n) => n.eventName)).toEqual(['Tool Viewed', 'Seen']);
  expect(needs[0]!.properties).toEqual(expect.arrayContaining(['a', 'b']));
  expect(rawNeeds(plan, 'Tool Viewed', ['a'])).toEqual([{ eventName: 'Tool Viewed', properties: ['a'] }]);
  expect(rawNeeds(plan, 'Round')).toEqual([]);
  // What is made of itself is not among the events.
  expect(eventNamed(withDefinedEvents(plan), 'Round')).toBeUndefined();
  expect(eventNamed(withDefinedEvents(plan), 'Again')).toBeDefined();
  expect(definitionNamed(plan, 'Nothing')).toBeUndefined();
});

test('a plan without definitions is itself; one with them keeps its own events as they are', () => {
  const plain = planWith(base);
  expect(withDefinedEvents(plain)).toBe(plain);
  const united = planWith([
    ...base,
    create('definition', 'd', { name: 'Tool Viewed', source: { of: 'events', names: ['Tool Viewed', 'tool viewed'] } }),
  ]);
  expect(withDefinedEvents(united).event).toEqual(united.event);
});
