/** How many are still on their way: against a history of which it is known who comes later. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { stillExpected } from '../../../src/core/clearance/still-expected';
import { LagHistogram } from '../../../src/core/stats/lag-histogram';
import { MessageTable } from '../../../src/core/table/message-table';
import { seeded } from '../../../src/demo/random';

const DAY = 86_400_000;

test('the share within a lag is that of the lags themselves, by a bin at most', () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: -5, max: 10_000_000 }), { minLength: 1, maxLength: 200 }),
      fc.integer({ min: 0, max: 10_000_000 }),
      (lags, ms) => {
        const h = new LagHistogram();
        for (const l of lags) h.add(l);
        const share = (max: number): number => lags.filter((l) => l <= max).length / lags.length;
        expect(h.within(ms)).toBeGreaterThanOrEqual(share(ms / 1.021 - 1) - 1e-12);
        expect(h.within(ms)).toBeLessThanOrEqual(share(ms * 1.021 + 1) + 1e-12);
      },
    ),
  );
  expect(new LagHistogram().within(0)).toBe(1);
});

test('what is expected is what comes, within a fifth, on histories with late phones', () => {
  for (let seed = 1; seed <= 20; seed++) {
    const rng = seeded(seed);
    const now = 100 * DAY;
    const sent = Array.from({ length: 40_000 }, () => {
      const at = now - rng.next() * 30 * DAY;
      // A third is offline for up to three days.
      return { at, received: at + (rng.chance(0.33) ? rng.next() * 3 * DAY : rng.next() * 60_000) };
    });
    const table = new MessageTable();
    sent
      .filter((m) => m.received <= now)
      .sort((a, b) => a.received - b.received)
      .forEach((m, i) => table.append({ seq: i + 1, kind: 'event', name: 'E', sourceId: 'phone', release: '', properties: {}, ids: {}, occurredAt: m.at, receivedAt: m.received })); // prettier-ignore
    const days = { from: now - 2 * DAY, to: now };
    const { messages, expected } = stillExpected(table, ['E'], days, now);
    const truth = sent.filter((m) => m.at >= days.from && m.received > now).length;
    expect(messages).toBeGreaterThan(1000);
    expect([seed, Math.abs(expected / truth - 1) < 0.2]).toEqual([seed, true]);
    // Weeks ago nothing is expected any more.
    expect(stillExpected(table, ['E'], { from: now - 20 * DAY, to: now - 10 * DAY }, now).expected).toBeLessThan(1);
  }
});
