/** How the figure of “share who also did” is worked out, and which of its numbers leads. */
import { wilson } from '../../../stats/wilson';
import type { FigureContext, FigureOf } from '../../figure';
import { type ShareWhoAlsoDid } from '../../formula';
import { outsideOf, personsOf, select } from '../../select';
import { DAY_MS } from '../../../time';
import type { FormulaComputation } from '../../definition';

/** Persons with both events over persons with the first, in any order, within the last `overDays` days.
 *  Units: share 0..1, `undefined` when nobody did the first. Missing values: messages of nobody are counted apart.
 *  Source: own definition; interval by Wilson (stats/wilson).
 */
const compute = (f: ShareWhoAlsoDid, c: FigureContext): FigureOf<'share who also did'> => {
  const since = c.now - f.overDays * DAY_MS;
  const [firsts, others] = [select(c, f.first, since), select(c, f.also, since, false)];
  const a = personsOf(c, [firsts]);
  const b = personsOf(c, [others]);
  const both = a.persons.shared(b.persons);
  const first = a.persons.size;
  return {
    type: 'share who also did',
    first,
    also: b.persons.size,
    both,
    share: first === 0 ? undefined : both / first,
    interval: wilson(both, first),
    unattributed: a.unattributed + b.unattributed,
    outside: outsideOf(c, [firsts, others], -Infinity),
  };
};

export const shareWhoAlsoDidComputation: FormulaComputation<'share who also did'> = {
  type: 'share who also did',
  compute,
  headline: (f) => ({ value: f.share, interval: f.interval }),
};
