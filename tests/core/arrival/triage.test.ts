import { describe, expect, test } from 'vitest';
import type { FindingGroup } from '../../../src/core/arrival/finding-group';
import { spreadOf, triaged, type Acknowledgement } from '../../../src/core/arrival/triage';
import { tableOf } from '../../build/messages';

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
  fixer: 'source',
  expected: 'number',
  received: 'text: "7"',
  fix: '',
  eventName: 'E',
  touches: ['E'],
  sourceId: 's',
  releases: [],
  count: 1,
  outOf: 2,
  firstAt: 0,
  lastAt: 0,
  samples: [],
  ...fields,
});
const now = 101 * HOUR;
const states = (groups: readonly FindingGroup[], said: readonly Acknowledgement[] = [], at = now) =>
  triaged(groups, said, table, at, SETTLING).map((g) => [g.key, g.state]);

test('fixed when the event went on without it for the settling window, open again when it comes back', () => {
  expect(states([group({})])).toEqual([['k', 'fixed']]);
  expect(states([group({ lastAt: 100 * HOUR })])).toEqual([['k', 'open']]);
  // Nothing came since, so nothing shows that it is fixed.
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

describe('what was acknowledged is open again as soon as it is more than that', () => {
  const acknowledged = { key: 'k', reason: '', until: now + HOUR, assignee: '', author: '', at: 0, releases: ['1.0'], share: 0.02 };
  test.each([
    ['as it was', { releases: ['1.0'], count: 2, outOf: 100 }, undefined],
    ['less', { releases: ['1.0'], count: 1, outOf: 100 }, undefined],
    ['a little more', { releases: ['1.0'], count: 39, outOf: 1000 }, undefined],
    ['another release', { releases: ['1.0', '1.1'], count: 2, outOf: 100 }, /spread to 1\.1/],
    ['messages without a release', { releases: ['1.0', ''], count: 2, outOf: 100 }, /without a release/],
    ['twice the rate', { releases: ['1.0'], count: 4, outOf: 100 }, /from 2\.0 % to 4\.0 %/],
  ])('%s', (_, now, expected) => {
    const spread = spreadOf(now, acknowledged);
    if (expected) expect(spread).toMatch(expected);
    else expect(spread).toBeUndefined();
    const [g] = triaged([group({ ...now, lastAt: 100 * HOUR })], [acknowledged], table, 101 * HOUR, SETTLING);
    expect(g!.state).toBe(expected ? 'open' : 'acknowledged');
  });
  test('where what it was is not known, nothing is said of it', () => {
    const { releases: _, share: __, ...old } = acknowledged;
    expect(spreadOf({ releases: ['9'], count: 50, outOf: 100 }, old)).toBeUndefined();
  });
});
