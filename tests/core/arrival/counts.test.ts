/** Messages, sessions and persons beside each other, against counting by hand and against counting with sets. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { arrivalCounts, sumsOf, type ArrivalCounts } from '../../../src/core/arrival/counts';
import { resolvePersons } from '../../../src/core/identity/persons';
import { LagHistogram } from '../../../src/core/stats/lag-histogram';
import { create, event, planWith, property } from '../../build/plan';
import { RULES, tableOf } from '../../build/messages';

const MINUTE = 60_000;
const DAY = 1440;
const plan = planWith(
  [
    create('source', 's', { name: 'Hall', kind: 'web', expectedLagMs: 10 * MINUTE }),
    create('source', 't', { name: 'Desk', kind: 'server', expectedLagMs: 0 }),
    property('crate', {}),
    event('e', { name: 'E', sources: [] }),
  ],
  { timeZone: 'UTC' },
);
type Row = Parameters<typeof tableOf>[0][number];

const counted = (rows: readonly Row[], nowMinutes: number, fromMinutes = -1): ArrivalCounts => {
  const table = tableOf(rows);
  return arrivalCounts({ plan, people: resolvePersons(table, RULES), from: fromMinutes * MINUTE, now: nowMinutes * MINUTE });
};

test('three counts, and what is late, out of order, on another day, ahead, or came twice', () => {
  const at = (minute: number, received: number, more: Partial<Row> = {}): Row => ({
    at: minute,
    receivedAt: received * MINUTE,
    ids: { user: 'm-1' },
    ...more,
  });
  const c = counted(
    [
      at(10, 10),
      at(10, 10), // the same again within a second
      at(100, 130), // another session, 20 minutes later than expected
      at(90, 131), // out of order, and late
      at(DAY - 5, DAY + 3), // on another day by receipt
      at(200, 100, { ids: { user: 'm-2' } }), // a clock ahead
      at(200, 200, { ids: { user: 'm-2' }, sourceId: 't', name: 'F' }),
      at(210, 210, { ids: {}, name: 'F' }), // nobody's
      { at: 220, receivedAt: 220 * MINUTE, ids: { user: 'm-2' }, name: '' }, // an identify call
    ],
    5 * DAY,
  );
  expect(c.events).toEqual([
    { eventName: 'E', planned: true, messages: 6, sessions: 4, persons: 2, firedTwice: 1, outOfOrder: 1, late: 2, ahead: 1, otherDay: 1 },
    { eventName: 'F', planned: false, messages: 2, sessions: 1, persons: 1, firedTwice: 0, outOfOrder: 0, late: 0, ahead: 0, otherDay: 0 },
  ]);
  expect(c).toMatchObject({ others: 1, ofNobody: 1, whole: { messages: 9, sessions: 5, persons: 2, firedTwice: 1 } });
  const [hall, desk] = c.sources;
  expect(hall).toMatchObject({ sourceId: 's', messages: 8, sessions: 4, persons: 2, expectedLagMs: 600_000 });
  expect(hall!.complete).toEqual({ messages: 8, atEnd: 7 / 8, afterOne: 1, afterTwo: 1 });
  expect(desk).toMatchObject({ sourceId: 't', messages: 1, sessions: 1, persons: 1, lag: { median: 0, p95: 0 } });
  // Days that are not over by two say nothing of how complete they become.
  expect(counted([at(10, 10)], 2 * DAY).sources[0]!.complete).toBeUndefined();
});

test('counted with sets it is the same, for any messages; messages and sessions add up over sources', () => {
  const row = fc.record({
    at: fc.integer({ min: 0, max: 3 * DAY }),
    lag: fc.integer({ min: -20, max: 2 * DAY }),
    user: fc.constantFrom('m-1', 'm-2', 'm-3', ''),
    sourceId: fc.constantFrom('s', 't', 'u'),
    name: fc.constantFrom('E', 'F', ''),
  });
  fc.assert(
    fc.property(fc.array(row, { maxLength: 60 }), fc.integer({ min: -1, max: DAY }), (drawn, from) => {
      const rows = drawn.map((r): Row => ({
        at: r.at,
        receivedAt: (r.at + r.lag) * MINUTE,
        ids: r.user === '' ? {} : { user: r.user },
        sourceId: r.sourceId,
        name: r.name,
      }));
      const c = counted(rows, 6 * DAY, from);
      // Sessions by hand: of each person and source, by time.
      const sessionOf = new Map<number, string>();
      for (const user of ['m-1', 'm-2', 'm-3'])
        for (const source of ['s', 't', 'u']) {
          let [last, n] = [-Infinity, 0];
          const own = rows.map((r, i) => ({ r, i })).filter(({ r }) => r.ids['user'] === user && r.sourceId === source);
          for (const { r, i } of own.sort((a, b) => a.r.at - b.r.at || a.i - b.i)) {
            if (r.at - last > 30) n++;
            last = r.at;
            sessionOf.set(i, `${user} ${source} ${n}`);
          }
        }
      const inside = rows.map((r, i) => ({ ...r, i })).filter((r) => r.at >= from);
      const three = (list: typeof inside) => ({
        messages: list.length,
        sessions: new Set(list.flatMap((r) => sessionOf.get(r.i) ?? [])).size,
        persons: new Set(list.flatMap((r) => r.ids['user'] ?? [])).size,
        late: list.filter((r) => r.sourceId === 's' && r.receivedAt! - r.at * MINUTE > 10 * MINUTE).length,
        ahead: list.filter((r) => r.at * MINUTE - r.receivedAt! >= 5 * MINUTE).length,
        otherDay: list.filter((r) => Math.floor(r.at / DAY) !== Math.floor(r.receivedAt! / (DAY * MINUTE))).length,
        outOfOrder: list.filter((r) =>
          rows
            .slice(0, r.i)
            .some((b) => b.ids['user'] !== undefined && b.ids['user'] === r.ids['user'] && b.sourceId === r.sourceId && b.at > r.at),
        ).length,
      });
      expect(c.whole).toMatchObject(three(inside));
      for (const name of ['E', 'F'])
        expect(c.events.find((e) => e.eventName === name) ?? { messages: 0 }).toMatchObject(
          inside.some((r) => r.name === name) ? three(inside.filter((r) => r.name === name)) : { messages: 0 },
        );
      for (const source of c.sources) expect(source).toMatchObject(three(inside.filter((r) => r.sourceId === source.sourceId)));
      const over = (of: (x: { messages: number; sessions: number; firedTwice: number }) => number) =>
        c.sources.reduce((n, x) => n + of(x), 0);
      expect([over((x) => x.messages), over((x) => x.sessions), over((x) => x.firedTwice)]).toEqual([
        c.whole.messages,
        c.whole.sessions,
        c.whole.firedTwice,
      ]);
      expect(sumsOf(c)).toMatchObject({ addsUp: true, messagesByEvent: inside.length });
      expect(sumsOf({ ...c, others: c.others + 1 }).addsUp).toBe(false);
    }),
    { seed: 41, numRuns: 250 },
  );
});

test('a quantile out of the bins is at most one in fifty above the true one', () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: -5, max: 10_000_000 }), { minLength: 1, maxLength: 200 }),
      fc.constantFrom(0.5, 0.95, 1),
      (lags, p) => {
        const h = new LagHistogram();
        for (const l of lags) h.add(l);
        const exact = Math.max(0, [...lags].sort((a, b) => a - b)[Math.ceil(p * lags.length) - 1]!);
        const q = h.quantile(p)!;
        expect(q >= exact * 0.999999 && q <= Math.max(exact * 1.0200001, 0)).toBe(true);
      },
    ),
    { seed: 42, numRuns: 400 },
  );
  expect(new LagHistogram().quantile(0.5)).toBeUndefined();
});
