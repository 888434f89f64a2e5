import { expect, test } from 'vitest';
import { DAY, run, user, type Row } from './harness';

test('more distinct values than planned', () => {
  const crates = (n: number): Row[] => Array.from({ length: n }, (_, i) => ({ at: i, ids: user(i), properties: { crate: `c${i}` } }));
  expect(run('too-many-values', crates(4), DAY)).toEqual([]);
  expect(run('too-many-values', crates(9), DAY)).toMatchObject([{ params: { planned: 3, found: 9 }, count: 5, outOf: 9 }]);
});
