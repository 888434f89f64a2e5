import { expect, test } from 'vitest';
import { DAY, run, user, type Row } from './harness';

test('shared device: many user IDs within a day on one device, not over a year', () => {
  const signed = (everyMinutes: number): Row[] =>
    Array.from({ length: 9 }, (_, i) => ({ at: i * everyMinutes, ids: { ...user(i), device: 'k1' } }));
  expect(run('shared-device', signed(20), DAY)).toMatchObject([{ params: { kind: 'device', devices: 1, users: 9 }, count: 9, outOf: 9 }]);
  expect(run('shared-device', signed(30 * DAY), 400 * DAY)).toEqual([]);
});
