/** “Total of a property”: its sentence, and what it needs of the plan. */
import type { FormulaDefinition } from '../../definition';
import { EMPTY_STEP, PERIODS } from '../../formula';
import { choicePart, eventPart, words } from '../../sentence';
import { isOpenRef } from '../../../plan/property-path';

export const totalOfProperty: FormulaDefinition<'total of a property'> = {
  type: 'total of a property',
  title: 'Total of a property',
  asks: 'How much is it, in sum, mean, median and p95, in each period?',
  start: ([event = EMPTY_STEP]) => ({ type: 'total of a property', event, property: '', period: 'week' }),
  open: (f) => (isOpenRef(f.property) ? 'the property to be added up is not chosen' : undefined),
  named: (f) => [{ eventName: f.event.eventName, name: f.property, numeric: true }],
  parts: (f) => [
    words('The total of '),
    {
      part: 'property',
      label: 'Property',
      eventName: f.event.eventName,
      of: 'property',
      numeric: true,
      value: f.property,
      set: (property) => ({ ...f, property }),
    },
    words(' on '),
    eventPart('Event', f.event, (event) => ({ ...f, event })),
    words(', in a calendar '),
    choicePart('Period', f.period, PERIODS, String, (period) => ({ ...f, period })),
  ],
};
