import { expect, test } from 'vitest';
import { DAY, run, user, type Row } from './harness';

test('repeated: once per session is kept over sessions, broken within one; told by release', () => {
  const opened = (gap: number, release: string): Row[] =>
    Array.from({ length: 20 }, (_, i) => i).flatMap((i) =>
      [0, gap].map((d) => ({ at: i * DAY + d, name: 'Opened', ids: user(i), release })),
    );
  expect(run('repeated', opened(31, '1'), 30 * DAY)).toEqual([]);
  expect(
    run('repeated', [...opened(40, '1'), ...opened(5, '2').map((r) => ({ ...r, ids: { user: `${r.ids.user}x` } }))], 30 * DAY),
  ).toMatchObject([{ eventName: 'Opened', releases: ['2'], count: 20, outOf: 40 }]);
});
