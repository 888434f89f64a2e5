import { expect, test } from 'vitest';
import { DAY, MINUTE_MS, run, user, type Row } from './harness';

test('clock ahead of the receipt, with its device where it is one; late against the expectation', () => {
  const ahead = (n: number, device: string): Row[] =>
    Array.from({ length: n }, (_, i) => ({ at: 300 + i, receivedAt: i * MINUTE_MS, ids: { ...user(i), device } }));
  expect(run('clock-ahead', ahead(5, 'k1'), DAY)).toMatchObject([
    { params: { device: 'k1', aheadMs: 300 * MINUTE_MS }, count: 5, outOf: 5 },
  ]);
  expect(run('clock-ahead', [...ahead(5, 'k1'), ...ahead(5, 'k2')], DAY)).toMatchObject([{ params: { device: '' } }]);
  const lagging = (ms: number): Row[] => Array.from({ length: 200 }, (_, i) => ({ at: i, receivedAt: i * MINUTE_MS + ms, ids: user(i) }));
  expect(run('clock-ahead', lagging(0), DAY)).toEqual([]);
  expect(run('late-arrival', lagging(30_000), DAY)).toEqual([]);
  expect(run('late-arrival', lagging(180_000), DAY)).toMatchObject([{ params: { expectedMs: 60_000, p95Ms: 180_000 }, count: 200 }]);
});
