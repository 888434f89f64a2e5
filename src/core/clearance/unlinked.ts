/** How many of the people of a figure may be one person counted twice, where nobody can know: a user ID that no other identifier was ever linked to may
 *  belong to any trail that stops before somebody was known.
 */
import { membersOf } from '../identity/members';
import type { Resolved } from '../identity/persons-otherwise';
import { figureOf, firstPersons } from '../questions/compute-figure';
import type { FigureContext } from '../questions/figure';
import { stepsOf, type Formula } from '../questions/formula';
import { headlineOf } from '../questions/formulas/computations';
import { rememberedFigure } from '../questions/remembered-figure';
import { addPersons } from '../questions/select';
import { Bitset } from '../table/bitset';
import { lowerBound } from '../table/column';
import { eventView } from '../table/event-view';
import { DAY_MS } from '../time';

export interface Bound {
  readonly low: number;
  readonly high: number;
  /** User IDs among them that stand alone, and trails without one. */
  readonly alone: number;
  readonly trails: number;
}

/** With the messages of some people alone. */
const only = (c: FigureContext, keeps: (person: number) => boolean): FigureContext => {
  const { personOfMessage } = c.people;
  return { ...c, allows: (row) => personOfMessage[row]! >= 0 && keeps(personOfMessage[row]!) };
};

/** Persons of the formula's events in the days that it looks at; conditions are left aside, so that rather too many are. */
const peopleOf = (f: Formula & { readonly overDays: number }, c: FigureContext): Bitset => {
  const since = c.now - f.overDays * DAY_MS;
  const found = new Bitset(c.people.count);
  for (const { eventName } of stepsOf(f)) {
    const view = eventView(c.people, eventName);
    addPersons(found, view, lowerBound(view.time, since), view.time.length);
  }
  return found;
};

const countOf = (people: Bitset, is: (person: number) => boolean): number => {
  let n = 0;
  for (let p = 0; p < people.words.length * 32; p++) if (people.has(p) && is(p)) n++;
  return n;
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
    const activeOf = (keeps: (person: number) => boolean): number => headlineOf(figureOf(f, only(c, keeps))).value ?? 0;
    const high = headlineOf(rememberedFigure(f, c)).value;
    if (high === undefined) return undefined;
    const alone = activeOf(isAlone);
    const trails = alone === 0 ? 0 : activeOf(isTrail);
    const same = Math.min(alone, trails);
    return same === 0 ? undefined : { low: high - same, high, alone, trails };
  }
  if (f.type !== 'conversion' && f.type !== 'share who also did') return undefined;
  const people = peopleOf(f, c);
  const [alone, trails] = [countOf(people, isAlone), countOf(people, isTrail)];
  const pairs = Math.min(alone, trails);
  if (pairs === 0) return undefined;
  const g = rememberedFigure(f, c);
  const [first, on] =
    g.type === 'conversion'
      ? [g.steps[0]?.persons ?? 0, g.steps.at(-1)?.persons ?? 0]
      : g.type === 'share who also did'
        ? [g.first, g.both]
        : [0, 0];
  if (first === 0) return undefined;
  const firsts = firstPersons(f, c);
  const fewer = Math.min(countOf(firsts, isAlone), countOf(firsts, isTrail));
  return { low: Math.max(0, on - pairs) / first, high: Math.min(1, (on + pairs) / Math.max(1, first - fewer)), alone, trails };
};
