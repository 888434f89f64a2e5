/** How many of the people of a figure may be one person counted twice, where nobody can know: a user ID that no other identifier was ever linked to may
 *  belong to any trail that stops before somebody was known.
 */
import { membersOf } from '../identity/members';
import type { Resolved } from '../identity/persons-otherwise';
import { figureOf } from '../questions/compute-figure';
import type { FigureContext } from '../questions/figure';
import { stepsOf, type Formula } from '../questions/formula';
import { headlineOf } from '../questions/formulas/computations';
import { GrowingBits } from '../table/bitset';
import { eventView, lowerBound } from '../table/event-view';
import { attributedTo } from '../table/following-persons';
import { DAY_MS } from '../time';

export interface Bound {
  readonly low: number;
  readonly high: number;
  /** User IDs among them that stand alone, and trails without one. */
  readonly alone: number;
  readonly trails: number;
}

const only = (c: FigureContext, keeps: (person: number) => boolean): FigureContext => ({
  ...c,
  people: attributedTo(
    c.people.table,
    c.people.personOfMessage.map((p) => (p >= 0 && keeps(p) ? p : -1)),
  ),
});

/** Persons of the formula's events in the days that it looks at, of whom something is so; conditions are left aside, so that rather too many are. */
const peopleOf = (f: Formula & { readonly overDays: number }, c: FigureContext, is: (person: number) => boolean): number => {
  const since = c.now - f.overDays * DAY_MS;
  const found = new GrowingBits();
  for (const { eventName } of stepsOf(f)) {
    const { time, person } = eventView(c.people, eventName);
    for (let i = lowerBound(time, since); i < time.length; i++) if (person[i]! >= 0 && is(person[i]!)) found.add(person[i]!);
  }
  return found.size;
};

/** Between what and what a figure of people lies: what it is, if no two are the same, and what any pairing of them could make of it.
 *  Shape: for a count of active people the bound is exact; for a conversion, and for a share who also did, it encloses whatever is possible, and may be wider:
 *  each pair may win or lose one who goes on, and two who did the first step may be one. `undefined` for other formulas, where somebody is left out for what they
 *  did (a pair may then be left out as one), and where nothing is unknown. Two user IDs are never one person, nor are two trails: what links them would have been
 *  seen.
 */
export const unlinkedBound = (f: Formula, c: FigureContext, persons: Resolved): Bound | undefined => {
  if (!persons.rules.linking || (f.filters ?? []).length > 0) return undefined;
  const { members, hasUser } = membersOf(persons);
  const isAlone = (p: number): boolean => hasUser[p] === 1 && members[p] === 1;
  const isTrail = (p: number): boolean => hasUser[p] === 0;
  if (f.type === 'active persons') {
    const countOf = (keeps: (person: number) => boolean): number => headlineOf(figureOf(f, only(c, keeps))).value ?? 0;
    const high = headlineOf(figureOf(f, c)).value;
    if (high === undefined) return undefined;
    const alone = countOf(isAlone);
    const trails = alone === 0 ? 0 : countOf(isTrail);
    const same = Math.min(alone, trails);
    return same === 0 ? undefined : { low: high - same, high, alone, trails };
  }
  if (f.type !== 'conversion' && f.type !== 'share who also did') return undefined;
  const [alone, trails] = [peopleOf(f, c, isAlone), peopleOf(f, c, isTrail)];
  const pairs = Math.min(alone, trails);
  if (pairs === 0) return undefined;
  const sidesOf = (context: FigureContext): { readonly first: number; readonly on: number } => {
    const g = figureOf(f, context);
    return g.type === 'conversion'
      ? { first: g.steps[0]?.persons ?? 0, on: g.steps.at(-1)?.persons ?? 0 }
      : g.type === 'share who also did'
        ? { first: g.first, on: g.both }
        : { first: 0, on: 0 };
  };
  const { first, on } = sidesOf(c);
  if (first === 0) return undefined;
  const fewer = Math.min(sidesOf(only(c, isAlone)).first, sidesOf(only(c, isTrail)).first);
  return { low: Math.max(0, on - pairs) / first, high: Math.min(1, (on + pairs) / Math.max(1, first - fewer)), alone, trails };
};
