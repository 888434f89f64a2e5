import { expect, test } from 'vitest';
import { run, user, type Row } from './harness';

const rows = (marked: Partial<Row>): Row[] => [
  { at: 1, ids: user(1) },
  { at: 2, ids: user(1), ...marked },
  { at: 3, ids: user(2), ...marked, sourceId: 'other' },
];

test.each([
  ['id-reused', { reusedId: true }],
  ['id-elsewhere', { idElsewhere: true }],
] as const)('%s: by source, as the intake noted it', (code, marked) => {
  expect(run(code, rows(marked), 10)).toMatchObject([
    { sourceId: 's', count: 1, outOf: 2, params: { messages: 1 } },
    { sourceId: 'other', count: 1, outOf: 1, params: { messages: 1 } },
  ]);
  expect(run(code, rows({}), 10)).toEqual([]);
});
