/** Steps against trying every chain of messages, with clocks of different sources that differ. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { resolvePersons } from '../../../src/core/identity/persons';
import { figureOf } from '../../../src/core/questions/compute-figure';
import type { Step } from '../../../src/core/questions/formula';
import { MessageTable } from '../../../src/core/table/message-table';
import { RULES } from '../../build/messages';

interface Hit {
  readonly at: number;
  readonly name: string;
  readonly source: string;
  readonly person: string;
}

const on = (...names: string[]): Step[] => names.map((eventName) => ({ eventName, where: [] }));

const comesAfter = (a: Hit & { row: number }, b: Hit & { row: number }, toleranceMs: number): boolean => {
  if (a.source === b.source || toleranceMs === 0) return b.at > a.at || (b.at === a.at && b.row > a.row);
  return b.at - a.at >= -toleranceMs;
};

type Placed = Hit & { readonly row: number };

const naively = (own: readonly Placed[], names: readonly string[], windowMs: number, toleranceMs: number, anyOrder: boolean): number => {
  if (anyOrder) {
    const from = own
      .filter((h) => h.name === names[0])
      .map((first) => {
        let n = 1;
        const comes = (name: string) =>
          own.some((h) => h !== first && h.name === name && comesAfter(first, h, toleranceMs) && h.at - first.at <= windowMs);
        while (n < names.length && comes(names[n]!)) n++;
        return n;
      });
    return Math.max(0, ...from);
  }
  const longest = (chain: readonly Placed[]): number =>
    Math.max(
      chain.length,
      ...own
        .filter(
          (h) =>
            chain.length < names.length &&
            !chain.includes(h) &&
            h.name === names[chain.length] &&
            chain.every((c) => comesAfter(c, h, toleranceMs)) &&
            (chain.length === 0 || h.at - chain[0]!.at <= windowMs),
        )
        .map((h) => longest([...chain, h])),
    );
  return longest([]);
};

const hit = fc.record({
  at: fc.integer({ min: 0, max: 40 }),
  name: fc.constantFrom('A', 'B', 'C'),
  source: fc.constantFrom('shop', 'till'),
  person: fc.constantFrom('p', 'q'),
});

test.each([false, true])('persons, and messages within the window, in any order: %s', (anyOrder) => {
  fc.assert(
    fc.property(
      fc.array(hit, { maxLength: 8 }),
      fc.constantFrom(['A', 'B'], ['A', 'B', 'C'], ['B', 'A', 'B']),
      fc.integer({ min: 1, max: 30 }),
      fc.integer({ min: 0, max: 6 }),
      (hits, names, windowS, toleranceS) => {
        const table = new MessageTable();
        for (const [i, h] of hits.entries())
          table.append({
            seq: i + 1,
            kind: 'event',
            name: h.name,
            sourceId: h.source,
            release: '',
            occurredAt: h.at * 1000,
            ids: { user: h.person },
            properties: {},
          });
        const f = figureOf(
          { type: 'conversion', steps: on(...names), windowMs: windowS * 1000, overDays: 1, ...(anyOrder ? { anyOrder } : {}) },
          {
            people: resolvePersons(table, RULES),
            settings: { timeZone: 'UTC', weekStartsOn: 1, sessionGapMinutes: 30, clockToleranceSeconds: toleranceS },
            now: 100_000,
          },
        );
        if (f.type !== 'conversion') throw new Error(f.type);
        const placed = hits.map((h, row): Placed => ({ ...h, at: h.at * 1000, row }));
        const used = placed.filter((h) => (names as readonly string[]).includes(h.name));
        const tolerance = new Set(used.map((h) => h.source)).size > 1 ? toleranceS * 1000 : 0;
        const of = (p: string, ms: number) =>
          naively(
            placed.filter((h) => h.person === p),
            names,
            windowS * 1000,
            ms,
            anyOrder,
          );
        const reached = ['p', 'q'].map((p) => of(p, tolerance));
        expect(f.steps.map((s) => s.persons)).toEqual(names.map((_, i) => reached.filter((r) => r > i).length));
        expect(f.byTolerance).toBe(['p', 'q'].filter((p) => of(p, tolerance) > of(p, 0)).length);
        // Of persons for whom the tolerance cannot matter the strict order says the same.
        if (tolerance === 0)
          expect(f.steps.slice(1).map((s) => s.messages)).toEqual(
            names
              .slice(1)
              .map(
                (n) =>
                  placed.filter(
                    (m) =>
                      m.name === n &&
                      placed.some(
                        (a) =>
                          a !== m && a.person === m.person && a.name === names[0] && comesAfter(a, m, 0) && m.at - a.at <= windowS * 1000,
                      ),
                  ).length,
              ),
          );
      },
    ),
    { seed: 21, numRuns: 1500 },
  );
});

test('a confirmation that a server dates before the request counts, and it is said for how many', () => {
  const table = new MessageTable();
  for (let i = 0; i < 100; i++) {
    const common = { kind: 'event', release: '', ids: { user: `u${i}` }, properties: {} } as const;
    table.append({ ...common, seq: 2 * i + 1, name: 'Ticket Asked', sourceId: 'web', occurredAt: 10_000 + i });
    table.append({ ...common, seq: 2 * i + 2, name: 'Ticket Sold', sourceId: 'till', occurredAt: 10_000 + i + (i < 40 ? -50 : 50) });
  }
  const people = resolvePersons(table, RULES);
  const of = (clockToleranceSeconds: number) =>
    figureOf(
      { type: 'conversion', steps: on('Ticket Asked', 'Ticket Sold'), windowMs: 60_000, overDays: 1 },
      {
        people,
        settings: { timeZone: 'UTC', weekStartsOn: 1, sessionGapMinutes: 30, clockToleranceSeconds },
        now: 100_000,
      },
    );
  expect(of(2)).toMatchObject({ share: 1, byTolerance: 40, toleranceMs: 2000 });
  expect(of(0)).toMatchObject({ share: 0.6, byTolerance: 0 });
  expect(of(0.049)).toMatchObject({ share: 0.6, byTolerance: 0 });
});
