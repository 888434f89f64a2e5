import { expect, test } from 'vitest';
import { create, deepFreeze, event, planWith, property } from '../../../build/plan';
import { DAY, required, run, says, sentBy, user, type Row } from './harness';

const HOUR_MS = 3_600_000;
const plan = deepFreeze(
  planWith(
    [
      create('source', 's', { name: 'Web', kind: 'web' }),
      create('source', 'b', { name: 'Backend', kind: 'server' }),
      create('identifierKind', 'user', { name: 'user', identifies: 'person' }),
      property('order', {}),
      event('asked', {
        name: 'Order Placed',
        sources: sentBy('s'),
        properties: required('order'),
        counterpart: { eventName: 'Order Stored', keyProperty: 'order', windowMs: HOUR_MS },
      }),
      event('stored', { name: 'Order Stored', sources: sentBy('b'), properties: required('order') }),
    ],
    { timeZone: 'UTC' },
  ),
);

/** Attempts, one every ten minutes; of each whether the server confirms it, and after how many minutes. */
const attempts = (n: number, isConfirmed: (i: number) => boolean, after = 1, release: (i: number) => string = () => '1'): Row[] =>
  Array.from({ length: n }, (_, i) => i).flatMap((i): Row[] => [
    { at: i * 10, name: 'Order Placed', release: release(i), ids: user(i), properties: { order: `o-${i}` } },
    ...(isConfirmed(i) ? [{ at: i * 10 + after, name: 'Order Stored', sourceId: 'b', ids: user(i), properties: { order: `o-${i}` } }] : []),
  ]);
const found = (rows: Row[], nowMinutes = 3 * DAY) => run('premature-trigger', rows, nowMinutes, plan);

test('attempts without a confirmation are counted out of those that are judged', () => {
  const hits = found(attempts(60, (i) => i % 4 !== 0));
  expect(hits).toMatchObject([
    {
      eventName: 'Order Placed',
      sourceId: 's',
      count: 15,
      outOf: 60,
      params: { counterpart: 'Order Stored', keyProperty: 'order', windowMs: HOUR_MS },
    },
  ]);
  expect(says('premature-trigger', hits)).toEqual(['`Order Placed` had no `Order Stored` with the same `order` within 1 hour.']);
});

test('all confirmed, or a few that got lost on the way, is nothing', () => {
  expect(found(attempts(60, () => true))).toEqual([]);
  expect(
    found(
      attempts(400, (i) => i % 200 !== 0),
      10 * DAY,
    ),
  ).toEqual([]);
});

test('what still has time for its confirmation is not judged', () => {
  const rows = attempts(60, (i) => i < 54);
  // The last six are younger than the hour.
  expect(found(rows, 600)).toEqual([]);
  expect(found(rows, 2 * DAY)).toMatchObject([{ count: 6, outOf: 60 }]);
});

test('a confirmation that comes after the window is none', () => {
  expect(found(attempts(30, () => true, 59))).toEqual([]);
  expect(found(attempts(30, () => true, 61))).toMatchObject([{ count: 30, outOf: 30 }]);
});

test('one release that fires too early is told by its name', () => {
  const hits = found(
    attempts(
      120,
      (i) => i < 90 || i % 2 === 0,
      1,
      (i) => (i < 90 ? '1.0' : '1.1'),
    ),
  );
  expect(hits).toMatchObject([{ count: 15, releases: ['1.1'] }]);
});
