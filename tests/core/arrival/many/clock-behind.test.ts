import { describe, expect, test } from 'vitest';
import { DAY, MINUTE_MS, run, says, type Row } from './harness';

describe('a clock that runs behind', () => {
  /** A message every four hours of three days, received by `lag(i)` minutes later than it says. */
  const sent = (device: string, lag: (i: number) => number): Row[] =>
    Array.from({ length: 18 }, (_, i) => ({ at: i * 240, receivedAt: (i * 240 + lag(i)) * MINUTE_MS, ids: { device, user: `m-${i}` } }));
  test('always by the same span, over a day or more: its device is named', () => {
    const found = run('clock-behind', [...sent('k-1', (i) => 300 + (i % 2)), ...sent('k-2', () => 0)], 4 * DAY);
    expect(found).toMatchObject([{ params: { device: 'k-1' }, count: 18, outOf: 18, sourceId: 's' }]);
    expect(says('clock-behind', found)).toEqual([
      'Messages say they happened about 5 hours before they were received, always by the same span, all from the device `k-1`.',
    ]);
  });
  test('a queue that is emptied now and then, or a small lag is none; of a single day it is too early to say', () => {
    expect(
      run(
        'clock-behind',
        sent('k-1', (i) => 10 + 40 * (i % 6)),
        4 * DAY,
      ),
    ).toEqual([]);
    // Within a day it is said that it is too early, and why.
    const [early] = run('clock-behind', sent('k-1', () => 300).slice(0, 6), 4 * DAY);
    expect([early!.severity, says('clock-behind', [early!])[0]]).toEqual([
      'note',
      'Messages say they happened about 5 hours before they were received, always by the same span, all from the device `k-1`; it takes a day to tell a clock from a queue, and they have come for 20 hours.',
    ]);
    expect(
      run(
        'clock-behind',
        sent('k-1', () => 2),
        4 * DAY,
      ),
    ).toEqual([]);
  });
});
