import { expect, test } from 'vitest';
import { DAY, MINUTE_MS, run, says, user, type Row } from './harness';

const NOW = 3000 * DAY;
const received = (at: number, receivedAt: number, n = 0): Row => ({ at, ids: user(n), receivedAt: receivedAt * MINUTE_MS });

test('years before and years after its receipt, each a finding of its own; one message is enough', () => {
  const rows = [received(0, 2900 * DAY), received(2899 * DAY, 2900 * DAY), received(2900 * DAY + 800 * DAY, 2900 * DAY, 2)];
  const found = run('implausible-time', rows, NOW);
  expect(found).toMatchObject([
    { field: 'past', count: 1, outOf: 3, params: { messages: 1, beforeMs: 2900 * DAY * MINUTE_MS }, firstAt: 2900 * DAY * MINUTE_MS },
    { field: 'future', count: 1, outOf: 3, params: { messages: 1, beforeMs: -800 * DAY * MINUTE_MS } },
  ]);
  expect(says('implausible-time', found)[0]).toMatch(/^Messages include one dated 8 years before it was received\.$/);
});

test('what is late by days, or ahead by hours, is left to other checks', () => {
  expect(run('implausible-time', [received(2890 * DAY, 2900 * DAY), received(2900 * DAY + 600, 2900 * DAY, 1)], NOW)).toEqual([]);
});

test('it is dated by all that were received so, by source, not by those that are shown', () => {
  const own = Array.from({ length: 40 }, (_, i) => received(i, 2900 * DAY + ((i * 7) % 40), i));
  const other: Row = { ...received(5, 2800 * DAY, 99), sourceId: 'other' };
  const found = run('implausible-time', [...own, other], NOW);
  expect(found.map(({ sourceId, count, firstAt, lastAt }) => [sourceId, count, firstAt, lastAt])).toEqual([
    ['s', 40, 2900 * DAY * MINUTE_MS, (2900 * DAY + 39) * MINUTE_MS],
    ['other', 1, 2800 * DAY * MINUTE_MS, 2800 * DAY * MINUTE_MS],
  ]);
});
