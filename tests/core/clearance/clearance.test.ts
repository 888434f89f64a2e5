/** What planned, built and conforming say, and how signals make one. */
import { expect, test } from 'vitest';
import { reconcile } from '../../../src/core/arrival/many/premature-trigger';
import { clearanceOf, worstOf } from '../../../src/core/clearance/clearance';
import { Watch } from '../../../src/core/plan/watch';
import { blank } from '../../../src/core/plan/defaults';
import { event, planWith, property, create } from '../../build/plan';
import { tableOf } from '../../build/messages';

const DAY = 86_400_000;
/** A minute of the day before the hundredth, which the daily figure looks at. */
const YESTERDAY = 99 * 24 * 60 + 10;
const plan = planWith([
  create('source', 'web', { name: 'Web' }),
  create('source', 'app', { name: 'App' }),
  property('branch', {}),
  event('v', {
    name: 'Tool Viewed',
    sources: [
      { sourceId: 'web', required: true, build: 'built' },
      { sourceId: 'app', required: true, build: 'built' },
    ],
  }),
]);
const question = blank('question', {
  text: 'q',
  formula: { type: 'active persons', events: [{ eventName: 'Tool Viewed', where: [] }], period: 'day' },
});
const view = (n: number, sourceId: string, name = 'Tool Viewed') =>
  Array.from({ length: n }, (_, i) => ({ at: YESTERDAY + i, name, ids: { user: 'u' }, sourceId }));
const judge = (rows: Parameters<typeof tableOf>[0], daysAgo = 30, q = question, recheck?: { done: number; total: number }) => {
  const table = tableOf(rows);
  const now = 100 * DAY;
  const c = clearanceOf(q, {
    published: { plan, number: 3, publishedAt: now - daysAgo * DAY, watch: Watch.of(plan, now - daysAgo * DAY) },
    table,
    reconciled: reconcile(plan, table, now),
    groups: [],
    recheck,
    now,
  });
  return { ...c, by: Object.fromEntries(c.gates.map((g) => [g.gate, g])) };
};

test('seven gates; those that are not judged are open, and no question is clear while one is', () => {
  const c = judge([...view(500, 'web'), ...view(500, 'app')]);
  expect(c.gates.map((g) => [g.gate, g.signal])).toEqual([
    ['planned', 'clear'],
    ['built', 'clear'],
    ['settled', 'open'],
    ['conforming', 'clear'],
    ['identified', 'open'],
    ['complete', 'clear'],
    ['fresh', 'caution'],
  ]);
  expect(c.signal).toBe('caution');
  expect(worstOf([{ signal: 'clear' }, { signal: 'open' }])).toBe('open');
  expect(worstOf([{ signal: 'clear' }, { signal: 'clear' }])).toBe('clear');
  expect(worstOf([{ signal: 'open' }, { signal: 'stop' }, { signal: 'caution' }])).toBe('stop');
});

test('a required source that never sent is a stop, but not before the settling window is over', () => {
  expect(judge(view(500, 'web')).by['built']).toMatchObject({ signal: 'stop', evidence: 'App has never sent `Tool Viewed`.' });
  expect(judge(view(500, 'web'), 1).by['built']).toMatchObject({ signal: 'open' });
});

test('while a new version has not judged all that was recorded, nothing is said to conform', () => {
  const rows = [...view(500, 'web'), ...view(500, 'app')];
  expect(judge(rows, 30, question, { done: 400, total: 1000 }).by['conforming']).toMatchObject({
    signal: 'open',
    evidence: expect.stringContaining('400 of 1,000') as string,
  });
  expect(judge(rows).by['conforming']).toMatchObject({ signal: 'clear' });
});

test('the lower bound is judged, not the share: few messages are not enough', () => {
  expect(judge([...view(20, 'web'), ...view(20, 'app')]).by['conforming']!.signal).toBe('caution');
  expect(judge([...view(3, 'web'), ...view(3, 'app')]).by['conforming']!.signal).toBe('stop');
  expect(judge([]).by['conforming']!.signal).toBe('open');
  // With so few it is their number that lacks, and it says how many would do.
  expect(judge([...view(3, 'web'), ...view(3, 'app')]).by['conforming']!.evidence).toContain('Too few messages to say so: 189 would do');
});

test('a twin under another spelling does not conform', () => {
  const c = judge([...view(450, 'web'), ...view(450, 'app'), ...view(100, 'app', 'Tool viewed')]).by['conforming']!;
  expect(c.signal).toBe('stop');
  expect(c.evidence).toContain('90.0 % of 1,000 messages conform');
  expect(c.evidence).toContain('100 under another spelling');
});

const WRONG = { property: 'branch', expected: 'string', received: 'number', numberInText: false, value: '1' } as const;

test('only fields that the formula uses count', () => {
  const table = tableOf([...view(500, 'web'), ...view(500, 'app')]);
  for (let row = 0; row < 300; row++)
    table.setVerdicts(row, [{ code: 'wrong-type', severity: 'stop', path: ['properties', 'branch'], params: WRONG }]);
  const context = {
    published: { plan, number: 1, publishedAt: 0, watch: Watch.of(plan, 0) },
    table,
    reconciled: [],
    groups: [],
    now: 100 * DAY,
  };
  const using = {
    ...question,
    formula: {
      type: 'active persons' as const,
      events: [{ eventName: 'Tool Viewed', where: [{ property: 'branch', is: 'x' }] }],
      period: 'day' as const,
    },
  };
  const withBranch = planWith([
    property('branch', {}),
    event('v', { name: 'Tool Viewed', properties: [{ propertyId: 'branch', required: false }] }),
  ]);
  expect(clearanceOf(question, context).gates[3]!.signal).toBe('clear');
  expect(clearanceOf(using, { ...context, published: { ...context.published, plan: withBranch } }).gates[3]!.signal).toBe('stop');
});

test('what the published version lacks is a stop', () => {
  const q = {
    ...question,
    formula: { type: 'active persons' as const, events: [{ eventName: 'Loan Started', where: [] }], period: 'day' as const },
  };
  expect(judge([], 30, q).by['planned']).toMatchObject({
    signal: 'stop',
    evidence: expect.stringContaining('`Loan Started` is not in the plan') as string,
  });
});
