/** “Average per person”: its sentence, and what it needs of the plan. */
import type { FormulaDefinition } from '../../definition';
import { PERIODS } from '../../formula';
import { choicePart, eventList, eventPart, words } from '../../sentence';

const PER = ['persons with it', 'active persons'] as const;

export const averagePerPerson: FormulaDefinition<'average per person'> = {
  type: 'average per person',
  title: 'Average per person',
  asks: 'How often does a person do it, on average, in each period?',
  start: ([event = { eventName: '', where: [] }]) => ({ type: 'average per person', event, per: 'open', active: [], period: 'week' }),
  open: (f) =>
    f.per === 'open'
      ? '“per person” does not say which persons: those with the event, or all active ones'
      : f.per === 'active persons' && f.active.length === 0
        ? '“active” needs the event that makes a person active'
        : undefined,
  named: () => [],
  parts: (f) => [
    eventPart('Event', f.event, (event) => ({ ...f, event })),
    words(' per person, counting '),
    choicePart('Which persons', f.per === 'open' ? ('which persons?' as const) : f.per, PER, String, (per) => ({
      ...f,
      per: per as 'active persons',
    })),
    ...(f.per === 'active persons'
      ? [
          words(', that is with '),
          ...eventList(
            (i) => `Active by ${i + 1}`,
            f.active,
            1,
            'or',
            (active) => ({ ...f, active }),
          ),
        ]
      : []),
    words(', in a calendar '),
    choicePart('Period', f.period, PERIODS, String, (period) => ({ ...f, period })),
  ],
};
