/** “Top values”: its sentence, and what it needs of the plan. */
import type { FormulaDefinition } from '../../definition';
import { EMPTY_STEP, type TopValues } from '../../formula';
import { choicePart, eventPart, numberPart, words } from '../../sentence';
import { isOpenRef, type PropertyRef } from '../../../plan/property-path';

const MEASURES = ['messages', 'persons', 'sum'] as const;
const MEASURE_TEXT = { messages: 'messages', persons: 'persons', sum: 'the sum of' } as const;

export const topValues: FormulaDefinition<'top values'> = {
  type: 'top values',
  title: 'Top values',
  asks: 'Which values come most often, or have most persons or the greatest sum?',
  start: ([event = EMPTY_STEP]) => ({ type: 'top values', event, property: '', measure: 'messages', overDays: 28 }),
  open: (f) =>
    isOpenRef(f.property)
      ? 'the property to be ranked is not chosen'
      : f.measure === 'sum' && isOpenRef(f.sumOf ?? '')
        ? 'the property to be summed is not chosen'
        : undefined,
  named: (f) => [
    { eventName: f.event.eventName, name: f.property, numeric: false },
    ...(f.measure === 'sum' ? [{ eventName: f.event.eventName, name: f.sumOf ?? '', numeric: true }] : []),
  ],
  parts: (f) => {
    const property = (label: string, value: PropertyRef, numeric: boolean, set: (ref: PropertyRef) => TopValues) =>
      ({ part: 'property', label, eventName: f.event.eventName, of: 'property', numeric, value, set }) as const;
    return [
      words('The values of '),
      property('Property', f.property, false, (name) => ({ ...f, property: name })),
      words(' on '),
      eventPart('Event', f.event, (event) => ({ ...f, event })),
      words(', ranked by '),
      choicePart(
        'Ranked by',
        f.measure,
        MEASURES,
        (m) => MEASURE_TEXT[m],
        (measure) => ({ ...f, measure }),
      ),
      ...(f.measure === 'sum' ? [words(' '), property('Summed property', f.sumOf ?? '', true, (sumOf) => ({ ...f, sumOf }))] : []),
      words(', over the last '),
      numberPart('Days looked at', f.overDays, 1, 3660, (overDays) => ({ ...f, overDays })),
      words(' days'),
    ];
  },
};
