/** “Retention”: its sentence, and what it needs of the plan. */
import type { FormulaDefinition } from '../../definition';
import { EMPTY_STEP } from '../../formula';
import { choicePart, eventPart, numberPart, words } from '../../sentence';

const MODES = ['on day', 'on or after day'] as const;

export const retention: FormulaDefinition<'retention'> = {
  type: 'retention',
  title: 'Retention',
  asks: 'Of those who began, how many came back on day N?',
  start: ([start = EMPTY_STEP, returning = start]) => ({
    type: 'retention',
    start,
    returning,
    day: 14,
    mode: 'on or after day',
    overDays: 56,
  }),
  open: () => undefined,
  named: () => [],
  parts: (f) => [
    words('Of persons whose first '),
    eventPart('Start', f.start, (start) => ({ ...f, start })),
    words(' fell in the last '),
    numberPart('Days looked at', f.overDays, 1, 3660, (overDays) => ({ ...f, overDays })),
    words(' days, the share with '),
    eventPart('Return', f.returning, (returning) => ({ ...f, returning })),
    words(' '),
    choicePart('When', f.mode, MODES, String, (mode) => ({ ...f, mode })),
    words(' '),
    numberPart('Day', f.day, 1, 365, (day) => ({ ...f, day })),
  ],
};
