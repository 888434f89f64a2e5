import { expect, test } from 'vitest';
import { run, says, type Row } from './harness';

/** Members who sign in on a device and go on; `dropped` says which of their messages lack the user ID. */
const members = (dropped: (i: number) => boolean): Row[] =>
  Array.from({ length: 60 }, (_, m) =>
    Array.from({ length: 10 }, (_, i): Row => {
      const ids: Record<string, string> = { device: `d-${m}` };
      if (i === 0 || i === 9 || !dropped(i)) ids['user'] = `m-${m}`;
      return { at: m * 100 + i, ids };
    }),
  ).flat();

test('messages between sign-in and the last with the user ID that lack it, as a share', () => {
  const found = run(
    'user-id-dropped',
    members((i) => i === 4 || i === 5),
    100_000,
  );
  expect(found).toMatchObject([{ sourceId: 's', field: 'ids.user', params: { kind: 'user', dropped: 120 } }]);
  expect(found[0]!.count).toBe(120);
  expect(says('user-id-dropped', found)[0]).toMatch(
    /^Messages lack the user ID, or carry a placeholder in its place, while somebody is signed in: \d+\.\d % of [\d,]+\.$/,
  );
});

test('none where each carries it', () => {
  expect(
    run(
      'user-id-dropped',
      members(() => false),
      100_000,
    ),
  ).toEqual([]);
});
