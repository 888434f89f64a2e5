import { expect, test } from 'vitest';
import type { FindingGroup } from '../../../src/core/arrival/finding-group';
import { triaged, type Acknowledgement } from '../../../src/core/arrival/triage';
import { tableOf } from '../../tables';

const HOUR = 3_600_000;
const SETTLING = 48 * HOUR;
const table = tableOf([
  { at: 0, ids: { user: 'm-1' } },
  { at: 60 * 100, ids: { user: 'm-1' } },
]);
const group = (fields: Partial<FindingGroup>): FindingGroup => ({
  key: 'k',
  code: 'wrong-type',
  severity: 'stop',
  title: '',
  why: '',
  sentence: '',
  cause: '',
  mender: 'source',
  expected: 'number',
  received: 'text: "7"',
  mend: '',
  eventName: 'E',
  touches: ['E'],
  sourceId: 's',
  releases: [],
  count: 1,
  of: 2,
  firstAt: 0,
  lastAt: 0,
  samples: [],
  ...fields,
});
const now = 101 * HOUR;
const states = (groups: readonly FindingGroup[], said: readonly Acknowledgement[] = [], at = now) =>
  triaged(groups, said, table, at, SETTLING).map((g) => [g.key, g.state]);

test('mended when the event went on without it for the settling window, open again when it comes back', () => {
  expect(states([group({})])).toEqual([['k', 'mended']]);
  expect(states([group({ lastAt: 100 * HOUR })])).toEqual([['k', 'open']]);
  // Nothing came since, so nothing shows that it is mended.
  expect(states([group({ sourceId: 'other' })])).toEqual([['k', 'open']]);
  expect(states([group({ code: 'never-seen' })])).toEqual([['k', 'open']]);
});

test('acknowledged until its day, then open by itself; the open ones come first', () => {
  const said = [{ key: 'k', reason: 'Known.', until: now + HOUR, assignee: '', author: 'Ines', at: 0 }];
  const [k, other] = [group({ lastAt: 100 * HOUR }), group({ key: 'o', lastAt: 100 * HOUR })];
  expect(states([k, other], said)).toEqual([
    ['o', 'open'],
    ['k', 'acknowledged'],
  ]);
  expect(states([k], said, now + 2 * HOUR)).toEqual([['k', 'open']]);
});
