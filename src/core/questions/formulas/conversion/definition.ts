/** “Conversion”: its sentence, and what it needs of the plan. */
import type { FormulaDefinition } from '../../definition';
import { EMPTY_STEP, spanText } from '../../formula';
import { DAY_MS, HOUR_MS } from '../../../time';
import { choicePart, eventList, eventPart, numberPart, words } from '../../sentence';

const WINDOWS = [60_000 * 10, HOUR_MS, 6 * HOUR_MS, DAY_MS, 3 * DAY_MS, 5 * DAY_MS, 7 * DAY_MS, 14 * DAY_MS, 28 * DAY_MS, 90 * DAY_MS];
const ORDERS = ['in this order', 'in any order'] as const;

export const conversion: FormulaDefinition<'conversion'> = {
  type: 'conversion',
  title: 'Conversion',
  asks: 'Of those who did one thing, how many did another within a given time?',
  start: (steps) => ({ type: 'conversion', steps, windowMs: 7 * DAY_MS, overDays: 28 }),
  open: (f) => (f.steps.length < 2 ? 'a conversion needs a first and a later event' : undefined),
  named: () => [],
  parts: (f) => {
    const [first = EMPTY_STEP, ...later] = f.steps;
    return [
      words('Of persons with '),
      eventPart('Step 1', first, (s) => ({ ...f, steps: [s, ...later] })),
      words(' in the last '),
      numberPart('Days looked at', f.overDays, 1, 3660, (overDays) => ({ ...f, overDays })),
      words(' days, the share with '),
      ...eventList(
        (i) => `Step ${i + 2}`,
        later,
        1,
        f.anyOrder ? 'and' : 'then',
        (l) => ({ ...f, steps: [first, ...l] }),
      ),
      words(' '),
      choicePart('Order', f.anyOrder ? ORDERS[1] : ORDERS[0], ORDERS, String, (o) => ({ ...f, anyOrder: o === ORDERS[1] })),
      words(' within '),
      choicePart('Window', f.windowMs, WINDOWS.includes(f.windowMs) ? WINDOWS : [f.windowMs, ...WINDOWS], spanText, (windowMs) => ({
        ...f,
        windowMs,
      })),
    ];
  },
};
