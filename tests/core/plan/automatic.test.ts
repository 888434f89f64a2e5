/** Events that a library sends on its own: no fault where they are listed, and what is made of them is answered. */
import { expect, test } from 'vitest';
import { arrivedNames } from '../../../src/core/arrival/profile';
import { compileChecker } from '../../../src/core/arrival/compile';
import { automaticEvents, buildOn, listAsAutomatic } from '../../../src/core/plan/automatic';
import { applyEdits } from '../../../src/core/plan/edit';
import { entries, type Plan } from '../../../src/core/plan/plan';
import { coverageOf } from '../../../src/core/questions/coverage';
import { isRejudged, rejudged } from '../../../src/core/scenario/rejudged';
import { MessageTable } from '../../../src/core/table/message-table';
import { create, deepFreeze, event, planWith } from '../../build/plan';

const plan = deepFreeze(
  planWith([
    create('source', 'web', { name: 'Web', kind: 'web', mark: 'W', automaticEvents: ['page_left'] }),
    create('source', 'app', { name: 'App', kind: 'mobile', mark: 'A' }),
    create('identifierKind', 'user', { name: 'user', identifies: 'person' }),
    event('e', { name: 'Tool Viewed' }),
  ]),
);
const edited = (p: Plan, edits: Parameters<typeof applyEdits>[1]): Plan => {
  const r = applyEdits(p, edits);
  if (!r.ok) throw new Error('the edits do not fit');
  return r.plan;
};
const codes = (p: Plan, name: string): string[] =>
  compileChecker(p)
    .check({ kind: 'event', name, ids: { user: 'm-1' }, properties: { seconds: 4 } })
    .map((f) => f.code);

test('what is listed is no unknown event; another spelling of it is', () => {
  expect(codes(plan, 'page_left')).toEqual([]);
  expect(codes(plan, 'page left')).toEqual(['unknown-event']);
  expect(codes(planWith([]), 'page_left')).toEqual(['unknown-event']);
});

test('personal data is looked for in what a library sends', () => {
  const found = compileChecker(plan).check({
    kind: 'event',
    name: 'page_left',
    ids: { user: 'm-1' },
    properties: { who: 'jo@example.org' },
  });
  expect(found.map((f) => f.code)).toEqual(['personal-data']);
});

test('listing is once for each source, and judges messages of that name anew, those of planned events not', () => {
  const edits = listAsAutomatic(plan, 'app_hidden', ['web', 'app', 'nobody']);
  expect(edits.map((e) => e.id)).toEqual(['web', 'app']);
  const after = edited(plan, edits);
  expect([...automaticEvents(after)]).toEqual([
    ['page_left', ['web']],
    ['app_hidden', ['web', 'app']],
  ]);
  expect(listAsAutomatic(after, 'app_hidden', ['web', 'app'])).toEqual([]);
  const r = rejudged(plan, after);
  expect(isRejudged(r, 'event', 'app_hidden')).toBe(true);
  expect(isRejudged(r, 'event', 'Tool Viewed')).toBe(false);
  expect(codes(after, 'app_hidden')).toEqual([]);
});

test('a definition is built on it under a free name, and a question over it lacks nothing', () => {
  let next = 0;
  const first = buildOn(plan, 'page_left', () => `n${next++}`);
  const one = edited(plan, first.edits);
  const two = edited(one, buildOn(one, 'page_left', () => `n${next++}`).edits);
  expect(entries(two, 'definition').map(([, d]) => d.name)).toEqual(['Page Left Narrowed', 'Page Left Narrowed 2']);
  const asked = create('question', 'q', {
    text: 'How long?',
    formula: {
      type: 'total of a property',
      event: { eventName: 'Page Left Narrowed', where: [] },
      property: 'seconds',
      period: 'week',
    },
  });
  const question = edited(two, [asked]).question['q']!;
  const c = coverageOf(two, question);
  expect(c).toMatchObject({ state: 'answerable', warnings: [expect.stringContaining('`page_left` is sent by a library') as string] });
  // Not listed, it is as any other name that nobody planned.
  const unlisted = edited(two, [{ op: 'set', kind: 'source', id: 'web', field: 'automaticEvents', before: ['page_left'], after: [] }]);
  expect(coverageOf(unlisted, question).state).toBe('partly');
});

test('names that arrived say whether a library sends them, and how many came from each source', () => {
  const table = new MessageTable();
  const sent = (seq: number, name: string, sourceId: string) =>
    table.append({ seq, kind: 'event', name, sourceId, release: '1', occurredAt: seq, ids: {}, properties: {} });
  sent(1, 'page_left', 'web');
  sent(2, 'page_left', 'app');
  sent(3, 'page_left', 'app');
  sent(4, 'Tool Viewed', 'web');
  sent(5, 'tool_seen', 'web');
  expect(arrivedNames(plan, table).map((n) => [n.eventName, n.planned, n.automatic, n.sources])).toEqual([
    ['page_left', false, true, [{ sourceId: 'web', messages: 1 }, { sourceId: 'app', messages: 2 }]],
    ['Tool Viewed', true, false, [{ sourceId: 'web', messages: 1 }]],
    ['tool_seen', false, false, [{ sourceId: 'web', messages: 1 }]],
  ]); // prettier-ignore
});
