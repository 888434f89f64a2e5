/** “Rate of a value”: its sentence, and what it needs of the plan. */
import type { FormulaDefinition } from '../../definition';
import { EMPTY_STEP, isArithmetic, isUnary } from '../../formula';
import { choicePart, eventPart, numberPart, words } from '../../sentence';
import { isOpenRef } from '../../../plan/property-path';

export const rateOfValue: FormulaDefinition<'rate of a value'> = {
  type: 'rate of a value',
  title: 'Rate of a value',
  asks: 'In what share of the messages, or for how many persons, is a value so?',
  start: ([event = EMPTY_STEP]) => ({
    type: 'rate of a value',
    event: { ...event, where: [] },
    condition: event.where[0] ?? { property: '', is: '' },
    of: 'messages',
    overDays: 28,
  }),
  open: (f) => (isOpenRef(f.condition.property) ? 'the property that is looked at is not chosen' : undefined),
  named: (f) =>
    f.condition.of === 'user property'
      ? []
      : [
          {
            eventName: f.event.eventName,
            name: f.condition.property,
            numeric: isArithmetic(f.condition.op),
            ...(isUnary(f.condition.op) ? {} : { sample: f.condition.is }),
          },
        ],
  parts: (f) => [
    words('The share of '),
    choicePart('Of', f.of, ['messages', 'persons'] as const, String, (of) => ({ ...f, of })),
    words(' of '),
    eventPart('Event', f.event, (event) => ({ ...f, event })),
    words(' in which '),
    { part: 'condition', eventName: f.event.eventName, condition: f.condition, set: (condition) => ({ ...f, condition }) },
    words(', over the last '),
    numberPart('Days looked at', f.overDays, 1, 3660, (overDays) => ({ ...f, overDays })),
    words(' days'),
  ],
};
