import { expect, test } from 'vitest';
import { DAY, run, user, type Row } from './harness';

test('double fire: the same person, properties and source within a second', () => {
  const pairs = (gap: number, crate: (i: number) => string): Row[] =>
    Array.from({ length: 40 }, (_, i) => i).flatMap((i) => [
      { at: i * 60, ids: user(i), properties: { crate: `c${i}` } },
      { at: i * 60 + gap, ids: user(i), properties: { crate: crate(i) } },
    ]);
  expect(
    run(
      'double-fire',
      pairs(0.01, (i) => `c${i}`),
      DAY * 9,
    ),
  ).toMatchObject([{ eventName: 'E', count: 40, outOf: 80 }]);
  expect(
    run(
      'double-fire',
      pairs(0.01, (i) => `d${i}`),
      DAY * 9,
    ),
  ).toEqual([]);
  expect(
    run(
      'double-fire',
      pairs(0.1, (i) => `c${i}`),
      DAY * 9,
    ),
  ).toEqual([]);
});
