import { expect, test } from 'vitest';
import { carriesValue, testerSeen } from '../../../src/core/trial/tester';
import { create, planWith } from '../../build/plan';

const plan = planWith([
  create('source', 's', { name: 'Hall', environment: 'production' }),
  create('identifierKind', 'user', { name: 'user', identifies: 'person' }),
]);
const message = (n: number, ids: Record<string, string>, more: object = {}) => ({ sourceId: 's', release: '', body: { n, ids, ...more } });
const all = [
  message(1, { device: 'd-1x' }),
  message(2, { device: 'd-1x', user: 'm-1x' }),
  message(3, { user: 'm-1x' }, { environment: 'staging' }),
  message(4, { device: 'd-2x' }, { properties: { order: { code: 7 } } }),
  message(5, { device: 'd-1x', user: 'm-2x' }),
];
const numbers = (list: readonly { body: { n: number } }[]): number[] => list.map((m) => m.body.n);

test('by an identifier: with what was beside it, another environment apart; whoever else was on the device is counted, and none of theirs taken', () => {
  const seen = testerSeen(plan, all, 'm-1x', 'production');
  expect([numbers(seen.mine), [...seen.elsewhere], seen.own, seen.users]).toEqual([[1, 2], [['staging', 1]], 3, 2]);
});

test('by what is surely theirs: a value at a path; nobody where there is none', () => {
  expect(numbers(testerSeen(plan, all, carriesValue('order.code', '7'), 'production').mine)).toEqual([4]);
  expect(testerSeen(plan, all, carriesValue('order.code', '8'), 'production')).toMatchObject({ mine: [], own: 0, users: 0 });
});
