import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { figureOf } from '../../../src/core/questions/compute-figure';
import { periodStarts } from '../../../src/core/questions/calendar';
import type { Step } from '../../../src/core/questions/formula';
import { resolvePersons } from '../../../src/core/identity/persons';
import { RULES, tableOf } from '../../build/messages';

const settings = { timeZone: 'Europe/London', weekStartsOn: 1, sessionGapMinutes: 30, clockToleranceSeconds: 0 };
const on = (...names: string[]): Step[] => names.map((eventName) => ({ eventName, where: [] }));
const contextOf = (rows: Parameters<typeof tableOf>[0], now: number) => {
  const table = tableOf(rows);
  return { people: resolvePersons(table, RULES), settings, now };
};

/** By trying every chain of messages: slow, and plainly the definition. */
const reachedNaively = (hits: { at: number; name: string }[], names: readonly string[], windowMs: number): number => {
  const extend = (from: number, first: number, step: number): number =>
    step === names.length
      ? step
      : Math.max(
          step,
          ...hits.map((h, i) => (i > from && h.name === names[step] && h.at - first <= windowMs ? extend(i, first, step + 1) : step)),
        );
  return Math.max(0, ...hits.map((h, i) => (h.name === names[0] ? extend(i, h.at, 1) : 0)));
};

describe('conversion', () => {
  test('is what trying every chain finds', () => {
    const hit = fc.record({ at: fc.integer({ min: 1, max: 60 }), name: fc.constantFrom('A', 'B', 'C'), person: fc.constantFrom('p', 'q') });
    fc.assert(
      fc.property(
        fc.array(hit, { maxLength: 9 }),
        fc.constantFrom(['A', 'B'], ['A', 'B', 'C'], ['A', 'A'], ['B', 'A', 'B']),
        fc.integer({ min: 1, max: 40 }),
        (hits, names, minutes) => {
          const sorted = [...hits].sort((a, b) => a.at - b.at);
          const f = figureOf(
            { type: 'conversion', steps: on(...names), windowMs: minutes * 60_000, overDays: 1 },
            contextOf(
              sorted.map((h) => ({ at: h.at, name: h.name, ids: { user: h.person } })),
              7_200_000,
            ),
          );
          const reached = ['p', 'q'].map((p) =>
            reachedNaively(
              sorted.filter((h) => h.person === p).map((h) => ({ ...h, at: h.at * 60_000 })),
              names,
              minutes * 60_000,
            ),
          );
          expect(f.type === 'conversion' && f.steps.map((s) => s.persons)).toEqual(
            names.map((_, i) => reached.filter((r) => r > i).length),
          );
          if (f.type === 'conversion' && f.share !== undefined) expect(f.share).toBeLessThanOrEqual(1);
        },
      ),
      { seed: 4, numRuns: 300 },
    );
  });
  test('without a first step the share is undefined, not zero', () => {
    expect(
      figureOf(
        { type: 'conversion', steps: on('A', 'B'), windowMs: 1, overDays: 1 },
        contextOf([{ at: 1, name: 'B', ids: { user: 'u' } }], 120_000),
      ),
    ).toMatchObject({ share: undefined, interval: undefined });
  });
  test('a condition keeps value and type: text is not a number', () => {
    const rows = [
      { at: 1, name: 'A', ids: { user: 'u' }, properties: { days: 3 } },
      { at: 1, name: 'A', ids: { user: 'v' }, properties: { days: '3' } },
    ];
    const steps: Step[] = [{ eventName: 'A', where: [{ property: 'days', is: 3 }] }, ...on('B')];
    expect(figureOf({ type: 'conversion', steps, windowMs: 1, overDays: 1 }, contextOf(rows, 120_000))).toMatchObject({
      steps: [{ persons: 1 }, { persons: 0 }],
      open: 0,
    });
  });
});

describe('active persons', () => {
  const hour = 3_600_000;
  test('a day is a day of the workspace’s zone: 23 hours when the clocks go forward, 25 when they go back', () => {
    // Europe/London, 2026: forward on 29 March, back on 25 October (the rule of the last Sunday; from memory).
    const lengths = (from: string) => {
      const at = Date.parse(from);
      const starts = periodStarts('day', at, at, 'Europe/London', 1);
      return (starts[1]! - starts[0]!) / hour;
    };
    expect([lengths('2026-03-29T12:00:00Z'), lengths('2026-10-25T12:00:00Z'), lengths('2026-06-01T12:00:00Z')]).toEqual([23, 25, 24]);
  });
  test('counts each person once a period, leaves the future out, and names the last complete period', () => {
    const monday = Date.parse('2026-11-02T00:00:00Z') / 60_000;
    const day = 1440;
    const rows = [
      { at: monday + 10, ids: { user: 'u' } },
      { at: monday + 20, ids: { user: 'u' } },
      { at: monday + 3 * day, ids: { user: 'v' } },
      { at: monday + 8 * day, ids: { user: 'u' } },
      { at: monday + 40 * day, ids: { user: 'w' } },
    ];
    const f = figureOf({ type: 'active persons', events: on('E'), period: 'week' }, contextOf(rows, (monday + 9 * day) * 60_000));
    if (f.type !== 'active persons') throw new Error(f.type);
    expect(f.points.map((p) => [p.persons, p.messages, p.complete])).toEqual([
      [2, 3, true],
      [1, 1, false],
    ]);
    expect(f.latest?.persons).toBe(2);
  });
});
