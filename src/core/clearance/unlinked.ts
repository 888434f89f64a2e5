/** How many of the people of a figure may be one person counted twice, where nobody can know: a user ID that no other identifier was ever linked to may
 *  belong to any trail that stops before somebody was known.
 */
import { membersOf } from '../identity/members';
import type { Persons } from '../identity/persons';
import { figureOf } from '../questions/compute-figure';
import type { FigureContext } from '../questions/figure';
import type { Formula } from '../questions/formula';
import { headlineOf } from '../questions/formulas/computations';
import { attributedTo } from '../table/following-persons';

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

/** Between what and what the number of people lies: as many as are counted, if no two are the same; and if as many as possible are.
 *  Shape: for a count of active people; `undefined` for other formulas, which cannot be bounded so, and where nothing is unknown. Two user IDs are
 *  never one person, nor are two trails: what links them would have been seen.
 */
export const unlinkedBound = (f: Formula, c: FigureContext, persons: Persons): Bound | undefined => {
  if (f.type !== 'active persons' || !persons.rules.linking) return undefined;
  const { members, hasUser } = membersOf(persons);
  const countOf = (keeps: (person: number) => boolean): number => headlineOf(figureOf(f, only(c, keeps))).value ?? 0;
  const high = headlineOf(figureOf(f, c)).value;
  if (high === undefined) return undefined;
  const alone = countOf((p) => hasUser[p] === 1 && members[p] === 1);
  const trails = alone === 0 ? 0 : countOf((p) => hasUser[p] === 0);
  const same = Math.min(alone, trails);
  return same === 0 ? undefined : { low: high - same, high, alone, trails };
};
