import { describe, expect, test } from 'vitest';
import { DAY, run, says, user } from './harness';

describe('never seen', () => {
  const rows = Array.from({ length: 20 }, (_, i) => ({ at: 10, receivedAt: i, ids: user(1) }));
  test('too early before a day, waiting before three, a fault then; only of sources that send at all', () => {
    expect(run('never-seen', rows, 0.9 * DAY)).toEqual([]);
    expect(run('never-seen', rows, 2 * DAY).map((f) => [f.eventName, f.severity])).toEqual([
      ['Opened', 'note'],
      ['Read', 'note'],
    ]);
    const found = run('never-seen', rows, 5 * DAY);
    expect(found.map((f) => f.severity)).toEqual([undefined, undefined]);
    expect(says('never-seen', found)[0]).toBe('`Opened` was never sent in the 5 days since it was planned.');
    expect(run('never-seen', [], 5 * DAY)).toEqual([]);
  });
});
