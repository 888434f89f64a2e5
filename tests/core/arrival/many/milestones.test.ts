import { expect, test } from 'vitest';
import { DAY, run, user, type Row } from './harness';

test('milestones: again on the same page, or a lower one after a higher; another page begins anew', () => {
  const read = (shares: readonly number[], n: number, page = '/guides/a'): Row[] =>
    shares.map((share, i) => ({ at: n * DAY + i, name: 'Read', ids: user(n), page, properties: { share } }));
  const many = (shares: readonly number[]) => Array.from({ length: 5 }, (_, n) => read(shares, n)).flat();
  expect(run('milestones', many([25, 50, 100]), 9 * DAY)).toEqual([]);
  expect(run('milestones', many([25, 50, 25, 50]), 9 * DAY)).toMatchObject([{ field: 'repeated', count: 10, outOf: 20 }]);
  expect(run('milestones', many([50, 25, 100]), 9 * DAY)).toMatchObject([{ field: 'out of order', count: 5 }]);
  expect(
    run('milestones', [...many([25, 50]), ...Array.from({ length: 5 }, (_, n) => read([25, 50], n, '/guides/b')).flat()], 9 * DAY),
  ).toEqual([]);
});
