/** “Share who also did”: its sentence, and what it needs of the plan. */
import type { FormulaDefinition } from '../../definition';
import { EMPTY_STEP } from '../../formula';
import { eventPart, numberPart, words } from '../../sentence';

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
};
