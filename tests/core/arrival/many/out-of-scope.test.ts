import { expect, test } from 'vitest';
import { DAY, run, says, user, type Row } from './harness';

test('out of scope: the page that it fires on most, and how many others', () => {
  const on = (page: string, n: number): Row[] => Array.from({ length: n }, (_, i) => ({ at: i, name: 'Read', page, ids: user(i) }));
  expect(run('out-of-scope', on('/guides/x', 9), DAY)).toEqual([]);
  const found = run('out-of-scope', [...on('/guides/x', 5), ...on('/shop', 3), ...on('/', 1)], DAY);
  expect(found).toMatchObject([{ count: 4, outOf: 9 }]);
  expect(says('out-of-scope', found)).toEqual(['`Read` fires outside `/guides`: on `/shop` and 1 other page.']);
});
