import { expect, test } from 'vitest';
import { DAY, MINUTE_MS, run, user, type Row } from './harness';

test('too old: what was received months after it happened, from three messages on', () => {
  const late = (n: number): Row[] =>
    Array.from({ length: n }, (_, i) => ({ at: i, ids: user(i), receivedAt: (100 * DAY + i) * MINUTE_MS }));
  const fresh = { at: 99 * DAY, ids: user(9), receivedAt: 99 * DAY * MINUTE_MS + 1000 };
  expect(run('too-old', [...late(3), fresh], 101 * DAY)).toMatchObject([
    { count: 3, outOf: 4, params: { oldestMs: 100 * DAY * MINUTE_MS } },
  ]);
  expect(run('too-old', [...late(2), fresh], 101 * DAY)).toEqual([]);
});
