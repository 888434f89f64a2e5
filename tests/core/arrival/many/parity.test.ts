import { describe, expect, test } from 'vitest';
import { DAY, run, says, user, type Row } from './harness';

describe('parity', () => {
  const sent = (sourceId: string, crates: readonly (string | number)[], n = 60): Row[] =>
    Array.from({ length: n }, (_, i) => ({ at: i, sourceId, ids: user(i), properties: { crate: crates[i % crates.length]! } }));
  test('a type or a value that one source alone has, told once and of the smaller', () => {
    expect(says('parity', run('parity', [...sent('s', ['oak', 'elm'], 90), ...sent('t', ['oak', 'ash'])], DAY))).toEqual([
      '`E` sends `crate` with values that no other source has: ash; the others have oak, elm.',
    ]);
    expect(run('parity', [...sent('s', ['oak'], 90), ...sent('t', [1, 'oak'])], DAY)).toMatchObject([
      { params: { what: 'type', own: ['number'], others: ['text'] }, sourceId: 't', count: 30, outOf: 60 },
    ]);
  });
  test('silent over the same values, over what is too rare to miss, and over a single source', () => {
    expect(run('parity', [...sent('s', ['oak', 'elm']), ...sent('t', ['elm', 'oak'])], DAY)).toEqual([]);
    expect(run('parity', [...sent('s', ['oak']), ...sent('t', ['oak', ...Array.from({ length: 9 }, () => 'oak'), 'ash'])], DAY)).toEqual(
      [],
    );
    expect(run('parity', sent('s', ['oak', 1]), DAY)).toEqual([]);
  });
});
