/** A definition while it is written, and what is offered of it: open parts, typed values, saved edits, twins, what took an element’s place. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { definitionSchema } from '../../../src/core/definitions/definition-schema';
import { takesNone, type Condition, type Definition, type Subject } from '../../../src/core/definitions/definition';
import { interactionsIn, orAlso } from '../../../src/core/definitions/interactions';
import { rowsOfKind } from '../../../src/core/table/kind-rows';
import { definitionFor } from '../../../src/core/definitions/offered';
import { uniteTwin } from '../../../src/core/definitions/unite';
import {
  editsToSave,
  finished,
  isOpen,
  openParts,
  operandOf,
  operatorsFor,
  sentenceOf,
  withOperator,
  type Sentence,
} from '../../../src/core/definitions/writing';
import { applyEdits } from '../../../src/core/plan/edit';
import { PROPERTY_TYPES, type Plan } from '../../../src/core/plan/plan';
import { attributedTo } from '../../../src/core/table/following-persons';
import { MessageTable } from '../../../src/core/table/message-table';
import { create, event, planWith } from '../../build/plan';
import { condition, group } from './naive';

const EVERYTHING: Definition['where'] = { match: 'all', conditions: [], groups: [] };
const OPEN: Condition = { subject: { of: 'property', name: '' }, op: 'is', values: ['x'] };
const sentence = (where: Definition['where'] = EVERYTHING): Sentence => ({
  source: { of: 'events', names: ['Tool Viewed'] },
  where,
  changes: [],
  since: undefined,
});

test('whatever is written, what is finished of it can be saved, and says the same where nothing is open', () => {
  const some = fc.oneof(
    condition,
    fc.constantFrom<Condition>(
      OPEN,
      { subject: { of: 'release' }, op: 'is', values: [] },
      { subject: { of: 'release' }, op: 'at least', values: ['x'] },
    ),
  );
  const names = fc.array(fc.constantFrom('', 'Tool Viewed'), { maxLength: 2 });
  fc.assert(
    fc.property(group, fc.array(some, { maxLength: 3 }), names, (where, more, list) => {
      // What a sentence cannot have written: more values than the operator takes, or texts where it compares numbers.
      const tidy = (c: Condition): Condition => withOperator(c, c.op);
      const written: Sentence = {
        ...sentence({
          ...where,
          conditions: [...where.conditions, ...more].map(tidy),
          groups: where.groups.map((g) => ({ ...g, conditions: g.conditions.map(tidy) })),
        }),
        source: { of: 'events', names: list },
      };
      const done = finished(written);
      const text = (c: Condition): boolean =>
        (c.op === 'contains' || c.op === 'starts with' || c.op === 'matches') && typeof c.values[0] !== 'string';
      if (![...done.where.conditions, ...done.where.groups.flatMap((g) => g.conditions)].some(text))
        expect(definitionSchema.safeParse({ name: 'X', ...done, since: undefined }).error?.issues ?? []).toEqual([]);
      expect(openParts(done) - (done.source.of === 'events' && done.source.names.length === 0 ? 1 : 0)).toBe(0);
      if (openParts(written) === 0 && written.where.groups.every((g) => g.conditions.length > 0)) expect(done).toEqual(written);
    }),
    { seed: 17, numRuns: 1500 },
  );
});

test('a condition is open until it has what it compares with', () => {
  const of = (op: Condition['op'], ...values: Condition['values']): boolean => isOpen({ subject: { of: 'release' }, op, values });
  expect([of('is'), of('is', ''), of('is', 'x'), of('is present'), of('at least', 'x'), of('at least', 3), of('is one of', '', 'x'), isOpen(OPEN)]).toEqual([true, true, false, false, true, false, false, true]); // prettier-ignore
});

test('each type is offered the operators that can hold for a value of it, and a typed text becomes such a value', () => {
  const sample = { string: 'x', number: '3.5', integer: '3', boolean: 'true', timestamp: '2026-03-01T09:30:00Z' } as const;
  for (const type of PROPERTY_TYPES) {
    const subject: Subject = { of: 'property', name: 'p' };
    const ops = operatorsFor(subject, type);
    expect(ops).toContain('is present');
    const text = sample[type as keyof typeof sample];
    if (text === undefined) {
      expect(ops.every(takesNone)).toBe(true);
      continue;
    }
    for (const op of ops)
      if (!takesNone(op)) expect([type, op, operandOf(text, op, subject, type) === undefined]).toEqual([type, op, false]);
  }
  expect(operandOf('many', 'at least', { of: 'property', name: 'p' }, 'number')).toBeUndefined();
  expect([operandOf('3', 'is', { of: 'property', name: 'p' }, 'string'), operandOf('3', 'is', { of: 'property', name: 'p' }, undefined), operandOf('3', 'is', { of: 'release' }, 'string')]).toEqual(['3', 3, '3']); // prettier-ignore
});

test('saving writes what differs over what it was begun from: who changed it meanwhile is not written over', () => {
  const plan = planWith([create('definition', 'd', { name: 'Seen', source: { of: 'events', names: ['A'] } })]);
  const begun = plan.definition['d']!;
  expect(editsToSave('d', begun, sentenceOf(begun))).toEqual([]);
  const edits = editsToSave('d', begun, { ...sentenceOf(begun), source: { of: 'interactions' }, since: 5 });
  expect(edits.map((e) => e.op === 'set' && e.field)).toEqual(['source', 'since']);
  const saved = applyEdits(plan, edits);
  expect(saved.ok && saved.plan.definition['d']).toMatchObject({ source: { of: 'interactions' }, since: 5 });
  const meanwhile = applyEdits(plan, [
    { op: 'set', kind: 'definition', id: 'd', field: 'source', before: begun.source, after: { of: 'views' } },
  ]);
  expect(meanwhile.ok && applyEdits(meanwhile.plan, edits)).toMatchObject({ ok: false, problem: { code: 'stale', field: 'source' } });
});

const twins = planWith([event('e', { name: 'Tool Viewed', owner: 'Tomasz' })]);
const applied = (plan: Plan, edits: Parameters<typeof applyEdits>[1]): Plan => {
  const r = applyEdits(plan, edits);
  if (!r.ok) throw new Error(JSON.stringify(r.problem));
  return r.plan;
};

test('twins are united under the planned name, one more each time, and none twice', () => {
  const first = uniteTwin(twins, 'Tool Viewed', 'Tool viewed', () => 'd')!;
  const one = applied(twins, first.edits);
  expect(one.definition['d']).toMatchObject({
    name: 'Tool Viewed',
    owner: 'Tomasz',
    source: { of: 'events', names: ['Tool Viewed', 'Tool viewed'] },
  });
  expect(uniteTwin(one, 'Tool Viewed', 'Tool viewed', () => 'x')).toBeUndefined();
  const two = applied(one, uniteTwin(one, 'Tool Viewed', 'tool_viewed', () => 'x')!.edits);
  expect(two.definition['d']!.source).toEqual({ of: 'events', names: ['Tool Viewed', 'Tool viewed', 'tool_viewed'] });
  const pressed = planWith([create('definition', 'd', { name: 'Tool Viewed', source: { of: 'interactions' } })]);
  expect(uniteTwin(pressed, 'Tool Viewed', 'x', () => 'y')).toBeUndefined();
});

test('a finding offers what a definition can mend, and nothing where none can', () => {
  const of = (code: string, touches: string[], eventName: string, successor?: { text: string; place: string }) => ({
    code,
    touches,
    eventName,
    successor,
  });
  expect(definitionFor(twins, of('unknown-event', ['Tool viewed', 'Tool Viewed'], 'Tool viewed'), () => 'd')).toMatchObject({
    text: 'Unite both in a definition',
    id: 'd',
  });
  expect(definitionFor(twins, of('unknown-event', ['Book Workshop'], 'Book Workshop'), () => 'd')).toBeUndefined();
  expect(definitionFor(twins, of('silence', ['Tool Viewed'], 'Tool Viewed'), () => 'd')).toBeUndefined();
  const asked = planWith([
    create('definition', 'd', {
      name: 'Asked',
      source: { of: 'interactions' },
      where: {
        ...EVERYTHING,
        conditions: [{ subject: { of: 'property', name: ['element', 'text'] }, op: 'is', values: ['Ask a librarian'] }],
      },
    }),
  ]);
  const offered = definitionFor(
    asked,
    of('definition-dropped', ['Asked'], 'Asked', { text: 'Ask about this tool', place: 'a/b' }),
    () => 'x',
  )!;
  expect(offered.text).toBe('Take in “Ask about this tool”');
  expect(applied(asked, offered.edits).definition['d']!.where.conditions).toEqual([
    { subject: { of: 'property', name: ['element', 'text'] }, op: 'is one of', values: ['Ask a librarian', 'Ask about this tool'] },
  ]);
  expect(definitionFor(asked, of('definition-dropped', ['Asked'], 'Asked'), () => 'x')).toBeUndefined();
});

test('taking another element in changes what speaks of text and place alone', () => {
  const about = (what: string, op: Condition['op'], ...values: string[]): Condition => ({
    subject: { of: 'property', name: ['element', what] },
    op,
    values,
  });
  const where: Definition['where'] = {
    match: 'all',
    conditions: [
      about('role', 'is', 'link'),
      about('text', 'is one of', 'a', 'b'),
      { subject: { of: 'page path' }, op: 'is', values: ['/x'] },
    ],
    groups: [{ match: 'any', conditions: [about('place', 'is', 'p'), about('text', 'contains', 'a')] }],
  };
  expect(orAlso(where, { text: 'c', place: 'q' })).toEqual({
    match: 'all',
    conditions: [where.conditions[0], about('text', 'is one of', 'a', 'b', 'c'), where.conditions[2]],
    groups: [{ match: 'any', conditions: [about('place', 'is one of', 'p', 'q'), about('text', 'contains', 'a')] }],
  });
  expect(orAlso({ ...EVERYTHING, conditions: [about('role', 'is', 'link')] }, { text: 'c', place: 'q' })).toBeUndefined();
  expect(orAlso(where, { text: 'a', place: 'p' })).toBeUndefined();
});

test('interactions are counted by element, with texts of ten thousand letters, from right to left, and without text', () => {
  const table = new MessageTable();
  const texts = ['שלום', 'x'.repeat(10_000), '', 'שלום', 'Go'];
  texts.forEach(
    (text, i) =>
    table.append({ seq: i + 1, kind: 'interaction', name: '', sourceId: 'web', release: '1', occurredAt: i * 1000, page: `/tools/T-${i}?q=1`, ids: {}, properties: { element: text === '' ? { role: 'button' } : { text, role: 'button', place: 'p' } } }), // prettier-ignore
  );
  table.append({ seq: 9, kind: 'event', name: 'Tool Viewed', sourceId: 'web', release: '1', occurredAt: 9000, ids: {}, properties: {} });
  const rows = rowsOfKind(table, 'interaction');
  expect([...rows]).toEqual([0, 1, 2, 3, 4]);
  const found = interactionsIn(rows, attributedTo(table, Int32Array.of(0, 1, -1, 2, 0, 0)));
  expect(found.map((i) => [i.text.slice(0, 5), i.place, i.people, i.firstAt, i.lastAt, [...i.pages]])).toEqual([
    ['שלום', 'p', 2, 0, 3000, [['/tools', 2]]],
    ['xxxxx', 'p', 1, 1000, 1000, [['/tools', 1]]],
    ['', '', 0, 2000, 2000, [['/tools', 1]]],
    ['Go', 'p', 1, 4000, 4000, [['/tools', 1]]],
  ]);
});
