/** No formula looks at less than is asked for: ten years of messages, counted with a loop. */
import { describe, expect, test } from 'vitest';
import { headlineOf } from '../../../src/core/questions/formulas/computations';
import { figureOf } from '../../../src/core/questions/compute-figure';
import { formulaSchema } from '../../../src/core/questions/formulas/schemas';
import type { Formula, Step } from '../../../src/core/questions/formula';
import { resolvePersons } from '../../../src/core/identity/persons';
import { RULES, tableOf } from '../../build/messages';

const DAY = 86_400_000;
const MINUTE = 60_000;
const NOW = Date.parse('2026-11-30T12:00:00Z');
/** The most that a formula may ask for. */
const OVER_DAYS = 3660;
const EVERY_DAYS = 11;
const settings = { timeZone: 'Europe/London', weekStartsOn: 1, sessionGapMinutes: 30, clockToleranceSeconds: 0 };
const on = (eventName: string): Step => ({ eventName, where: [] });

/** Each of them a person: every second goes on to B, every third has the value. The last ones are out of any span. */
const times = Array.from({ length: 340 }, (_, i) => ({ i, at: NOW - DAY / 2 - i * EVERY_DAYS * DAY }));
const table = tableOf(
  times
    .flatMap(({ i, at }) => [
      { at: Math.floor(at / MINUTE), name: 'A', ids: { user: `u${i}` }, properties: { days: i % 3 === 0 ? 'x' : 'y', sum: 2 } },
      ...(i % 2 === 0 ? [{ at: Math.floor(at / MINUTE) + 2 * 24 * 60, name: 'B', ids: { user: `u${i}` }, properties: {} }] : []),
    ])
    .sort((a, b) => a.at - b.at),
);
const context = { people: resolvePersons(table, RULES), settings, now: NOW };
const within = times.filter(({ at }) => at >= NOW - OVER_DAYS * DAY && at <= NOW);
const share = (is: (i: number) => boolean, of = within): number => of.filter(({ i }) => is(i)).length / of.length;

describe(`${OVER_DAYS} days`, () => {
  const cases: readonly (readonly [Formula, number])[] = [
    [
      { type: 'conversion', steps: [on('A'), on('B')], windowMs: 3 * DAY, overDays: OVER_DAYS },
      share((i) => i % 2 === 0 && times[i]!.at + 2 * DAY <= NOW),
    ],
    [
      { type: 'share who also did', first: on('A'), also: on('B'), overDays: OVER_DAYS },
      share((i) => i % 2 === 0 && times[i]!.at + 2 * DAY <= NOW),
    ],
    [
      { type: 'rate of a value', event: on('A'), condition: { property: 'days', is: 'x' }, of: 'messages', overDays: OVER_DAYS },
      share((i) => i % 3 === 0),
    ],
    [
      { type: 'rate of a value', event: on('A'), condition: { property: 'days', is: 'x' }, of: 'persons', overDays: OVER_DAYS },
      share((i) => i % 3 === 0),
    ],
    [{ type: 'retention', start: on('A'), returning: on('B'), day: 2, mode: 'on day', overDays: OVER_DAYS }, share((i) => i % 2 === 0, within.filter(({ at }) => at + 3 * DAY <= NOW))], // prettier-ignore
  ];
  for (const [formula, expected] of cases)
    test(`${formula.type}${'of' in formula ? ` of ${formula.of}` : ''}`, () => {
      expect(formulaSchema.safeParse(formula).success).toBe(true);
      expect(formulaSchema.safeParse({ ...formula, overDays: OVER_DAYS + 1 }).success).toBe(false);
      expect(headlineOf(figureOf(formula, context)).value).toBeCloseTo(expected, 12);
    });

  test('top values, and the weeks of a rate, come to all of it', () => {
    const top = figureOf({ type: 'top values', event: on('A'), property: 'days', measure: 'messages', overDays: OVER_DAYS }, context);
    if (top.type !== 'top values') throw new Error('another figure');
    const has = (value: string): number => within.filter(({ i }) => (i % 3 === 0) === (value === 'x')).length;
    expect(top.ranked.map(({ value, amount }) => [value, amount])).toEqual([['y', has('y')], ['x', has('x')]]); // prettier-ignore
    expect(top.total).toBe(within.length);
    for (const of of ['messages', 'persons'] as const) {
      const rate = figureOf({ type: 'rate of a value', event: on('A'), condition: { property: 'days', is: 'x' }, of, overDays: OVER_DAYS }, context); // prettier-ignore
      if (rate.type !== 'rate of a value') throw new Error('another figure');
      expect([rate.total, rate.points.reduce((n, p) => n + p.of, 0), rate.points.reduce((n, p) => n + p.hits, 0)]).toEqual([within.length, within.length, rate.hits]); // prettier-ignore
    }
  });
});
