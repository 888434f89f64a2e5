import { expect, test } from 'vitest';
import { DAY, run, user, type Row } from './harness';

test('a source that puts an ID into every name breaks no check', () => {
  const rows: Row[] = Array.from({ length: 150_000 }, (_, i) => ({
    at: i % (40 * DAY),
    ids: user(i % 50),
    name: `Opened ${i}`,
    release: `r${i}`,
  }));
  for (const code of ['silence', 'volume-change', 'unit-suspicion', 'parity', 'never-seen'])
    expect(() => run(code, rows, 40 * DAY)).not.toThrow();
});
