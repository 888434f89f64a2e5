import { expect, test } from 'vitest';
import { seeded } from '../../../../src/demo/random';
import { DAY, MINUTE_MS, run, user, type Row } from './harness';

test('volume: a day far off its weekday, not one that goes with its source', () => {
  const random = seeded(3);
  const rows = (perDay: (d: number) => number): Row[] =>
    Array.from({ length: 56 }, (_, d) => d).flatMap((d) => [
      ...Array.from({ length: perDay(d) + random.int(0, 6) }, (_, i) => ({ at: d * DAY + i, ids: user(i) })),
      ...Array.from({ length: (d % 7 === 6 ? 400 : 1000) + random.int(0, 9) }, (_, i) => ({
        at: d * DAY + i,
        name: 'Opened',
        ids: user(i),
      })),
    ]);
  const weekly = (d: number) => (d % 7 === 6 ? 80 : 200);
  expect(run('volume-change', rows(weekly), 56 * DAY)).toEqual([]);
  const found = run(
    'volume-change',
    rows((d) => (d === 50 ? 20 : weekly(d))),
    56 * DAY,
  );
  expect(found.filter((f) => f.eventName === 'E')).toMatchObject([
    { params: { direction: 'fewer', days: 1 }, firstAt: 50 * DAY * MINUTE_MS },
  ]);
});
