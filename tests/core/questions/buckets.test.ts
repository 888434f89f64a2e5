import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { BUCKET_WAYS, bucketOf, bucketed, countBuckets, proposeBounds } from '../../../src/core/questions/buckets';
import { answerOf } from '../../../src/core/questions/compute-figure';
import type { Formula } from '../../../src/core/questions/formula';
import { resolvePersons } from '../../../src/core/identity/persons';
import { RULES, tableOf } from '../../build/messages';
import { PathMap } from '../../../src/core/plan/property-path';

const one = (values: readonly number[]) => values.map((value) => ({ value, weight: 1 }));

describe('bounds', () => {
  test('equal shares and round limits of what people really have', () => {
    const loans = one([
      ...Array(50).fill(1),
      ...Array(25).fill(2),
      ...Array(15).fill(4),
      ...Array(8).fill(11),
      ...Array(2).fill(60),
    ] as number[]);
    expect(proposeBounds(loans, 'equal shares', 4)).toEqual([1, 2]);
    expect(proposeBounds(loans, 'round limits', 4)).toEqual([1, 2, 5]);
    expect(countBuckets([1, 2, 5], loans)).toEqual([
      { label: 'up to 1', upTo: 1, weight: 50 },
      { label: '2', upTo: 2, weight: 25 },
      { label: 'more than 2, up to 5', upTo: 5, weight: 15 },
      { label: 'more than 5', upTo: undefined, weight: 10 },
    ]);
    expect(proposeBounds(one([7, 7, 7]), 'equal shares', 5)).toEqual([]);
    expect(proposeBounds([], 'round limits', 5)).toEqual([]);
  });

  test('whatever the numbers: ascending, no more than asked for, no empty last bucket, and every value in the one bucket whose bounds hold it', () => {
    const weighted = fc.record({
      value: fc.oneof(fc.integer({ min: -50, max: 5000 }), fc.double({ min: -5, max: 5, noNaN: true })),
      weight: fc.integer({ min: 1, max: 40 }),
    });
    fc.assert(
      fc.property(
        fc.array(weighted, { maxLength: 60 }),
        fc.constantFrom(...BUCKET_WAYS),
        fc.integer({ min: 2, max: 8 }),
        (values, way, max) => {
          const bounds = proposeBounds(values, way, max);
          expect(bounds.length).toBeLessThan(max);
          bounds.forEach((b, i) => i > 0 && expect(b).toBeGreaterThan(bounds[i - 1]!));
          const buckets = countBuckets(bounds, values);
          expect(buckets.reduce((n, b) => n + b.weight, 0)).toBe(values.reduce((n, v) => n + v.weight, 0));
          if (bounds.length > 0) expect(buckets.at(-1)!.weight).toBeGreaterThan(0);
          for (const { value } of values) {
            const at = bucketOf(bounds, value);
            expect(value <= (bounds[at] ?? Infinity) && value > (bounds[at - 1] ?? -Infinity)).toBe(true);
          }
        },
      ),
      { seed: 3, numRuns: 400 },
    );
  });

  test('a value that is no number keeps its own name', () => {
    const { of, names } = bucketed([3, 'many', 12, 'many'], [5]);
    expect([...of].map((i) => names[i])).toEqual(['up to 5', 'many', 'more than 5', 'many']);
  });
});

describe('groups of a figure', () => {
  const formula = (groupBy: Formula['groupBy']): Formula =>
    ({
      type: 'average per person',
      event: { eventName: 'E', where: [] },
      per: 'persons with the event',
      period: 'month',
      rollingDays: 30,
      groupBy,
    }) as unknown as Formula;
  const contextOf = (rows: Parameters<typeof tableOf>[0]) => {
    const table = tableOf(rows);
    const people = resolvePersons(table, RULES);
    return {
      people,
      settings: { timeZone: 'UTC', weekStartsOn: 1, sessionGapMinutes: 30, clockToleranceSeconds: 0 },
      now: 20_000 * 60_000,
    };
  };

  test('are ranked by events per person, with totals and sizes beside: 300 of 100 before 500 of 500', () => {
    const rows = [
      ...Array.from({ length: 500 }, (_, i) => ({ at: i, ids: { user: `a${i}` }, userProperties: { hall: 'large' } })),
      ...Array.from({ length: 300 }, (_, i) => ({ at: i, ids: { user: `b${i % 100}` }, userProperties: { hall: 'small' } })),
    ];
    const { groups } = answerOf(formula({ of: 'user property', name: 'hall' }), contextOf(rows));
    expect(groups!.map((g) => [g.value, g.messages, g.persons, g.perPerson])).toEqual([
      ['small', 300, 100, 3],
      ['large', 500, 500, 1],
    ]);
  });

  test('are the buckets of a user property where the plan keeps some', () => {
    const rows = Array.from({ length: 12 }, (_, i) => ({
      at: i,
      ids: { user: `u${i}` },
      ...(i < 10 ? { userProperties: { lent: i } } : {}),
    }));
    const { groups } = answerOf(formula({ of: 'user property', name: 'lent' }), {
      ...contextOf(rows),
      buckets: new PathMap([['lent', [3, 6]]]),
    });
    expect(new Map(groups!.map((g) => [g.value, g.messages]))).toEqual(
      new Map<string | undefined, number>([
        ['up to 3', 4],
        ['more than 3, up to 6', 3],
        ['more than 6', 3],
        [undefined, 2],
      ]),
    );
  });
});
