import { wilson } from '../../stats/wilson';
import type { FormulaDefinition } from '../definition';
import type { FigureContext, FigureOf } from '../figure';
import { DAY_MS, EMPTY_STEP, type ShareWhoAlsoDid } from '../formula';
import { outsideOf, personsOf, select } from '../select';
import { eventPart, numberPart, words } from '../sentence';

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

export const shareWhoAlsoDid: FormulaDefinition<'share who also did'> = {
  type: 'share who also did',
  title: 'Share who also did',
  asks: 'Of those who did one thing, how many also did another, in any order?',
  start: ([first = EMPTY_STEP, also = EMPTY_STEP]) => ({ type: 'share who also did', first, also, overDays: 28 }),
  open: () => undefined,
  named: () => [],
  parts: (f) => [
    words('Of persons with '),
    eventPart('First event', f.first, (first) => ({ ...f, first })),
    words(', the share who also have '),
    eventPart('Other event', f.also, (also) => ({ ...f, also })),
    words(', in any order, over the last '),
    numberPart('Days looked at', f.overDays, 1, 3660, (overDays) => ({ ...f, overDays })),
    words(' days'),
  ],
  compute,
};
