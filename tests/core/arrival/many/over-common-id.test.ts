import { expect, test } from 'vitest';
import { run, says, type Row } from './harness';

/** So many persons with so many messages each, and one identifier on many more. */
const traffic = (many: number): Row[] => [
  ...Array.from({ length: 300 }, (_, person) =>
    Array.from({ length: 4 }, (_, i): Row => ({ at: person * 5 + i, ids: { device: `d-${person}` } })),
  ).flat(),
  ...Array.from({ length: many }, (_, i): Row => ({ at: i, ids: { device: 'd-robot' } })),
];

test('an identifier on far more messages than ninety-nine of a hundred, which is named', () => {
  const found = run('over-common-id', traffic(2000), 100_000);
  expect(found).toMatchObject([
    {
      count: 2000,
      outOf: 3200,
      field: expect.stringMatching(/^ids\.device\./) as string,
      params: { kind: 'device', value: 'd-robot', messages: 2000, usual: 4 },
    },
  ]);
  expect(says('over-common-id', found)).toEqual([
    'Messages carry “d-robot” as their device ID, 2,000 of them, where ninety-nine of a hundred have at most 4.',
  ]);
});

test('one that has a few more than the others is somebody', () => {
  expect(run('over-common-id', traffic(12), 100_000)).toEqual([]);
});

test('where many are alike, none is too common', () => {
  const rows = Array.from({ length: 30 }, (_, d) =>
    Array.from({ length: 400 }, (_, i): Row => ({ at: i, ids: { device: `d-${d}` } })),
  ).flat();
  expect(run('over-common-id', rows, 100_000)).toEqual([]);
});
