/** “Active persons”: its sentence, and what it needs of the plan. */
import type { FormulaDefinition } from '../../definition';
import { PERIODS, type ActivePersons } from '../../formula';
import { choicePart, eventList, numberPart, words, type Part } from '../../sentence';

const PERIOD_TEXTS = [...PERIODS.map((p) => `a calendar ${p}`), 'a rolling window'];

const period = (f: ActivePersons): Part[] => [
  choicePart('Period', f.rollingDays ? PERIOD_TEXTS[3]! : `a calendar ${f.period}`, PERIOD_TEXTS, String, (text) => {
    const { rollingDays: _, ...rest } = f;
    const chosen = PERIODS.find((p) => text === `a calendar ${p}`);
    return chosen ? { ...rest, period: chosen } : { ...rest, period: 'day', rollingDays: f.rollingDays ?? 28 };
  }),
  ...(f.rollingDays
    ? [words(' of '), numberPart('Days of the window', f.rollingDays, 2, 90, (n) => ({ ...f, rollingDays: n })), words(' days')]
    : []),
];

export const activePersons: FormulaDefinition<'active persons'> = {
  type: 'active persons',
  title: 'Active persons',
  asks: 'How many distinct persons did it, in each day, week or month?',
  start: (steps) => ({ type: 'active persons', events: steps.slice(0, 1), period: 'week' }),
  open: (f) => (f.events.length === 0 ? '“active” needs the event that makes a person active' : undefined),
  named: () => [],
  parts: (f) => [
    words('Persons with '),
    ...eventList(
      (i) => `Event ${i + 1}`,
      f.events,
      1,
      'or',
      (events) => ({ ...f, events }),
    ),
    words(' in '),
    ...period(f),
  ],
};
