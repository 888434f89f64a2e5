/** What nobody can know of a count of people: against every way in which they may be the same. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { unlinkedBound } from '../../../src/core/clearance/unlinked';
import { DEFAULT_SETTINGS } from '../../../src/core/plan/defaults';
import { personRulesOf } from '../../../src/core/identity/person-rules';
import { resolvePersons } from '../../../src/core/identity/persons';
import { figureOf } from '../../../src/core/questions/compute-figure';
import type { Formula } from '../../../src/core/questions/formula';
import { headlineOf } from '../../../src/core/questions/formulas/computations';
import { figureContext } from '../../../src/core/scenario/figure-context';
import { event, planWith } from '../../build/plan';
import { tableOf } from '../../build/messages';

const DAY_MIN = 1440;
const formula: Formula = { type: 'active persons', events: [{ eventName: 'E', where: [] }], period: 'day' };
const boundOf = (ids: readonly Record<string, string>[], f: Formula = formula, settings = DEFAULT_SETTINGS.identity) => {
  const table = tableOf(ids.map((i) => ({ at: 10 * DAY_MIN + 5, ids: i })));
  const own = planWith([event('e', { name: 'E' })], { timeZone: 'UTC', identity: settings });
  const persons = resolvePersons(table, personRulesOf(own));
  return unlinkedBound(f, figureContext(own, persons, 11.5 * DAY_MIN * 60_000), persons);
};

test('a user ID that stands alone may belong to a trail without one, one to one', () => {
  expect(boundOf([{ user: 'u1' }, { anonymous: 'a1' }, { anonymous: 'a2' }])).toEqual({ low: 2, high: 3, alone: 1, trails: 2 });
  expect(boundOf([{ user: 'u1' }, { user: 'u2' }, { anonymous: 'a1' }])).toEqual({ low: 2, high: 3, alone: 2, trails: 1 });
  // Linked ones are known; two user IDs are two people, and so are two trails.
  expect(boundOf([{ user: 'u1', anonymous: 'a1' }, { anonymous: 'a2' }])).toBeUndefined();
  expect(boundOf([{ user: 'u1' }, { user: 'u2' }])).toBeUndefined();
  expect(boundOf([{ anonymous: 'a1' }, { anonymous: 'a2' }])).toBeUndefined();
  expect(boundOf([])).toBeUndefined();
});

test('other formulas, and people who are not linked at all, are not bounded so', () => {
  const ids = [{ user: 'u1' }, { anonymous: 'a1' }];
  expect(boundOf(ids, { type: 'average per person', event: { eventName: 'E', where: [] }, period: 'day', per: 'persons with it', active: [] })).toBeUndefined(); // prettier-ignore
  expect(boundOf(ids, formula, { ...DEFAULT_SETTINGS.identity, linking: false })).toBeUndefined();
});

/** The fewest people that any pairing of those that stand alone with trails leaves: all of them tried. */
const fewest = (people: number, alone: number, trails: number): number =>
  alone === 0 || trails === 0
    ? people
    : Math.min(fewest(people, alone - 1, trails), ...Array.from({ length: trails }, () => fewest(people - 1, alone - 1, trails - 1)));

test('the bound is what all pairings come to at most', () => {
  const person = fc.constantFrom('alone', 'trail', 'linked') as fc.Arbitrary<'alone' | 'trail' | 'linked'>;
  fc.assert(
    fc.property(fc.array(person, { maxLength: 8 }), (people) => {
      const ids = people.map((p, i): Record<string, string> => (p === 'alone' ? { user: `u${i}` } : p === 'trail' ? { anonymous: `a${i}` } : { user: `u${i}`, anonymous: `a${i}` })); // prettier-ignore
      const n = (k: string): number => people.filter((p) => p === k).length;
      const low = fewest(people.length, n('alone'), n('trail'));
      const bound = boundOf(ids);
      if (low === people.length) expect(bound).toBeUndefined();
      else expect(bound).toEqual({ low, high: people.length, alone: n('alone'), trails: n('trail') });
    }),
    { numRuns: 60 },
  );
});

/** Every way in which people who stand alone may be trails: each gives messages in which the two carry both IDs. */
const pairings = (alone: readonly string[], trails: readonly string[]): ReadonlyMap<string, string>[] =>
  alone.length === 0
    ? [new Map()]
    : [
        ...pairings(alone.slice(1), trails),
        ...trails.flatMap((t) => pairings(alone.slice(1), trails.filter((x) => x !== t)).map((m) => new Map([...m, [t, alone[0]!]]))), // prettier-ignore
      ];

test.each([
  [
    'conversion',
    {
      type: 'conversion',
      steps: [
        { eventName: 'A', where: [] },
        { eventName: 'B', where: [] },
      ],
      windowMs: 3_600_000,
      overDays: 7,
    },
  ],
  [
    'share who also did',
    { type: 'share who also did', first: { eventName: 'A', where: [] }, also: { eventName: 'B', where: [] }, overDays: 7 },
  ],
] as const satisfies readonly (readonly [string, Formula])[])('%s: whatever pairing is true, the share lies within the bound', (_, f) => {
  const own = planWith([event('a', { name: 'A' }), event('b', { name: 'B' })], { timeZone: 'UTC' });
  const now = 11.5 * DAY_MIN * 60_000;
  const sent = fc.record({ who: fc.constantFrom('u1', 'u2', 'a1', 'a2', 'a3', 'both'), name: fc.constantFrom('A', 'B'), at: fc.integer({ min: 0, max: 200 }) }); // prettier-ignore
  const shareOf = (rows: readonly { who: string; name: string; at: number }[], same: ReadonlyMap<string, string>) => {
    const idsOf = (who: string): Record<string, string> =>
      who === 'both' ? { user: 'u9', anonymous: 'a9' } : who.startsWith('u') ? { user: who } : { anonymous: who, ...(same.has(who) ? { user: same.get(who)! } : {}) }; // prettier-ignore
    const persons = resolvePersons(
      tableOf(rows.map((r) => ({ at: 11 * DAY_MIN + r.at, name: r.name, ids: idsOf(r.who) }))),
      personRulesOf(own),
    );
    const context = figureContext(own, persons, now);
    return { share: headlineOf(figureOf(f, context)).value, bound: unlinkedBound(f, context, persons) };
  };
  let bounded = 0;
  fc.assert(
    fc.property(fc.array(sent, { minLength: 1, maxLength: 14 }), (rows) => {
      const { share, bound } = shareOf(rows, new Map());
      const there = (p: string): string[] => [...new Set(rows.map((r) => r.who))].filter((w) => w.startsWith(p));
      for (const same of pairings(there('u'), there('a'))) {
        const possible = shareOf(rows, same).share;
        if (possible === undefined) continue;
        if (!bound) expect(possible).toBeCloseTo(share!, 12);
        else {
          bounded++;
          expect(possible).toBeGreaterThanOrEqual(bound.low - 1e-12);
          expect(possible).toBeLessThanOrEqual(bound.high + 1e-12);
        }
      }
    }),
    { numRuns: 80 },
  );
  expect(bounded).toBeGreaterThan(50);
});

test('where somebody is left out for what they did, nothing is bounded', () => {
  const filtered: Formula = { ...formula, filters: [{ mode: 'leaving out', who: 'persons', did: { eventName: 'X', where: [] } }] };
  expect(boundOf([{ user: 'u1' }, { anonymous: 'a1' }], filtered)).toBeUndefined();
});
