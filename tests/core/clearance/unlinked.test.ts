/** What nobody can know of a count of people: against every way in which they may be the same. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { unlinkedBound } from '../../../src/core/clearance/unlinked';
import { DEFAULT_SETTINGS } from '../../../src/core/plan/defaults';
import { personRulesOf } from '../../../src/core/identity/person-rules';
import { resolvePersons } from '../../../src/core/identity/persons';
import type { Formula } from '../../../src/core/questions/formula';
import { figureContext } from '../../../src/core/scenario/figure-context';
import { event, planWith } from '../../plans';
import { tableOf } from '../../tables';

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
