import { expect, test } from 'vitest';
import { compileChecker } from '../../../src/core/arrival/compile';
import { isPlaceholder } from '../../../src/core/identity/placeholder';
import { heldBackBy, sampleMessage } from '../../../src/core/formats/ticket';
import { ticketMarkdown } from '../../../src/core/formats/event-ticket';
import { planJson } from '../../../src/core/formats/plan-json';
import { DEFAULT_SETTINGS } from '../../../src/core/plan/defaults';
import { applyEdits } from '../../../src/core/plan/edit';
import { emptyPlan, entries } from '../../../src/core/plan/plan';
import { publishedEdits } from '../../../src/demo/plan';
import { event, planWith, property } from '../../build/plan';

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
    '`Reservation Confirmed` with the same `request_id` within 10 s',
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
