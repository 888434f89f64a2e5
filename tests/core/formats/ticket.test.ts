import fc from 'fast-check';
import { expect, test } from 'vitest';
import { compileChecker } from '../../../src/core/arrival/compile';
import { isPlaceholder } from '../../../src/core/identity/placeholder';
import { constraintText, heldBackBy, sampleMessage, sampleValue } from '../../../src/core/formats/ticket';
import { ticketMarkdown } from '../../../src/core/formats/event-ticket';
import { plan as anyPlan } from '../../build/arbitrary-plan';
import { markdownOf } from '../../../src/core/formats/blocks';
import { planMarkdown } from '../../../src/core/formats/plan-markdown';
import { sourceDocument } from '../../../src/core/formats/source-document';
import { typescriptOf } from '../../../src/core/formats/code/typescript';
import { misfitOf, sampleAs } from '../../../src/core/plan/sample';
import { planJson } from '../../../src/core/formats/plan-json';
import { DEFAULT_SETTINGS } from '../../../src/core/plan/defaults';
import { applyEdits } from '../../../src/core/plan/edit';
import { emptyPlan, entries } from '../../../src/core/plan/plan';
import { publishedEdits } from '../../../src/demo/plan';
import { create, event, planWith, property } from '../../build/plan';

const applied = applyEdits(
  emptyPlan(DEFAULT_SETTINGS),
  publishedEdits.filter((e) => e.kind !== 'settings'),
);
if (!applied.ok) throw new Error('the demo plan does not apply');
const { plan } = applied;

test('the samples of every event conform to the plan, and what must be replaced is caught when it is not', () => {
  const checker = compileChecker(plan);
  for (const [, e] of entries(plan, 'event'))
    for (const s of e.sources) {
      const m = sampleMessage(plan, e, plan.source[s.sourceId]) as {
        ids: Record<string, string>;
        properties: Record<string, unknown>;
        id: string;
        time: string;
      };
      expect(checker.check({ kind: 'event', name: e.name, ids: { user: 'm-20418' }, properties: m.properties })).toEqual([]);
      expect(Object.keys(m.ids).length).toBeGreaterThan(0);
      expect(checker.check({ kind: 'event', name: e.name, ids: m.ids, properties: m.properties })).toHaveLength(Object.keys(m.ids).length);
      expect([m.id, m.time].every(isPlaceholder)).toBe(true);
    }
});

test('a ticket says when it fires, what it carries, who confirms it and when it is accepted', () => {
  const text = ticketMarkdown(plan, 'reservation-requested', 'app');
  for (const part of [
    '# Reservation Requested on Phone app',
    '**Trigger** (completed). The server’s answer',
    '| `loan_days` | yes | integer; d; 1 to 28 |',
    '`Reservation Confirmed` from Lending desk with the same `request_id` within 10 s',
    '| sign-in | `anonymous`, `device`, `user` |',
    '## Must not fire when',
    'exactly one `Reservation Requested`',
  ])
    expect(text).toContain(part);
});

test('a cell of a ticket’s table cannot break it', () => {
  const p = planWith([
    property('a', { description: 'one | two\nthree', samples: ['x|y'] }),
    event('e', { name: 'A', properties: [{ propertyId: 'a', required: true }] }),
  ]);
  const row = ticketMarkdown(p, 'e', undefined)
    .split('\n')
    .find((l) => l.startsWith('| `a`'))!;
  expect(row.match(/(?<!\\)\|/g)).toHaveLength(6);
});

test('what is missing holds an event back, and is named', () => {
  const p = planWith([
    property('a', { type: 'number' }),
    event('e', { name: 'A', trigger: '', properties: [{ propertyId: 'a', required: true }] }),
  ]);
  expect(heldBackBy(p, p.event['e']!)).toEqual(['trigger', 'description', 'source', 'unit of `a`', 'samples of `a`']);
  for (const [, e] of entries(plan, 'event')) expect(heldBackBy(plan, e)).toEqual([]);
});

test('the plan as JSON reads back as the same plan', () => {
  expect(JSON.parse(planJson(plan, 3, 'hash'))).toEqual({
    format: 'signal-post-plan/1',
    version: 3,
    contentHash: 'hash',
    plan: JSON.parse(JSON.stringify(plan)) as unknown,
  });
});

test('a sample is one that fits: among the allowed values, in its range, as its pattern has it; what cannot be known is to be filled in', () => {
  const of = (more: object): unknown => sampleValue(planWith([property('p', more)]).property['p']!);
  expect(of({ samples: ['blue', 'red'], allowed: ['red', 'green'] })).toBe('red');
  expect(of({ samples: ['blue'], allowed: ['red', 'green'] })).toBe('red');
  expect(of({ type: 'integer', samples: ['99', '7'], min: 1, max: 28 })).toBe(7);
  expect(of({ type: 'integer', samples: ['99'], min: 3, max: 28 })).toBe(3);
  expect(of({ type: 'number', samples: [], max: -2 })).toBe(-2);
  expect(of({ type: 'number', samples: ['many'] })).toBe(0);
  expect(of({ samples: ['412', 'T-0412'], pattern: '^T-\\d+$' })).toBe('T-0412');
  expect(of({ samples: ['412'], pattern: '^T-\\d+$' })).toBe('{{p}}');
  expect(of({ type: 'list of string', samples: ['a', 'x', 'b', 'c'], allowed: ['a', 'b', 'c'] })).toEqual(['a', 'b']);
});

test('at random: no sample breaks its own definition where any value can be told that does not', () => {
  fc.assert(
    fc.property(anyPlan, (p) => {
      for (const q of Object.values(p.property)) {
        const v = sampleValue(q);
        if (typeof v !== 'string' || v === '' || isPlaceholder(v) || q.type.startsWith('list')) continue;
        const some = [...q.samples, ...q.allowed].some((x) => misfitOf(q, x) === undefined && sampleAs(q.type, x) !== undefined);
        if (some) expect([q.name, v, misfitOf(q, v)]).toEqual([q.name, v, undefined]);
      }
    }),
  );
});

test('a pattern is said wherever it is built from: ticket, document of a source, plan, comments of typed calls', () => {
  const own = planWith([
    property('code', { pattern: '^T-\\d{4}$', samples: ['T-0001', 'T-0002'] }),
    create('source', 'web', { name: 'Web', kind: 'web' }),
    create('source', 'desk', { name: 'Desk', kind: 'server' }),
    event('a', {
      name: 'Asked',
      sources: [{ sourceId: 'web', required: true, build: 'agreed' }],
      properties: [{ propertyId: 'code', required: true }],
      counterpart: { eventName: 'Given', keyProperty: 'code', windowMs: 5000 },
    }),
    event('g', {
      name: 'Given',
      sources: [{ sourceId: 'desk', required: true, build: 'agreed' }],
      properties: [{ propertyId: 'code', required: true }],
    }),
  ]);
  expect(constraintText(own.property['code']!)).toBe('string; matches ^T-\\d{4}$');
  const written = { plan: own, number: 1, contentHash: '' };
  const texts = [
    ticketMarkdown(own, 'a', 'web'),
    markdownOf(sourceDocument(own, 1, 'web').blocks),
    planMarkdown(own, 1),
    typescriptOf(written),
  ];
  for (const t of texts) expect(t.replaceAll('\\\\', '\\')).toMatch(/[mM]atches \^T-/);
  // Whose the confirmation is, is said too.
  for (const t of texts.slice(0, 2)) expect(t).toContain('`Given` from Desk');
  expect(texts[2]).toMatch(/Given.* from Desk/);
});
