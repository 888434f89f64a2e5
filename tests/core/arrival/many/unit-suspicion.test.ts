import { expect, test } from 'vitest';
import { seeded } from '../../../../src/demo/random';
import { DAY, run, user, type Row } from './harness';

test.each([
  [1000, 'grams'],
  [2.2046226218487757, 'pounds'],
  [35.27396194958041, 'ounces'],
])('units: a release that sends %f times what the others send', (factor, unit) => {
  const random = seeded(8);
  const sent = (n: number, release: string, f: number): Row[] =>
    Array.from({ length: n }, (_, i) => ({ at: i, ids: user(i), release, properties: { weight: (5 + random.int(0, 400) / 10) * f } }));
  expect(run('unit-suspicion', [...sent(300, '1', 1), ...sent(80, '2', factor)], DAY)).toMatchObject([
    { releases: ['2'], count: 80, params: { factor, sent: unit, planned: 'kilograms', ground: 'past' } },
  ]);
  // The same distribution, or one that is merely wider, is no other unit.
  expect(run('unit-suspicion', [...sent(300, '1', 1), ...sent(80, '2', 1)], DAY)).toEqual([]);
  expect(run('unit-suspicion', [...sent(300, '1', 1), ...sent(80, '2', 1.3)], DAY)).toEqual([]);
});
