/** A month to choose a day from; loaded when it is opened first. */
import { format, parseISO } from 'date-fns';
import { DayPicker } from 'react-day-picker';

const dayOf = (date: Date): string => format(date, 'yyyy-MM-dd');

const ROUND = 'inline-flex size-7 items-center justify-center hover:bg-wash disabled:opacity-40';

export const Calendar = ({
  day,
  today,
  max,
  weekStartsOn,
  onChoose,
}: {
  /** As `2026-10-05`, all days here. */
  day: string | undefined;
  today: string;
  max: string | undefined;
  /** 0 is Sunday. */
  weekStartsOn: 0 | 1 | 2 | 3 | 4 | 5 | 6;
  onChoose: (day: string) => void;
}) => (
  <DayPicker
    mode="single"
    autoFocus
    selected={day === undefined ? undefined : parseISO(day)}
    defaultMonth={parseISO(day ?? today)}
    today={parseISO(today)}
    {...(max === undefined ? {} : { disabled: { after: parseISO(max) } })}
    weekStartsOn={weekStartsOn}
    onSelect={(date) => {
      if (date) onChoose(dayOf(date));
    }}
    classNames={{
      root: 'relative p-3',
      month_caption: 'mb-2 px-8 text-center font-semibold',
      nav: 'absolute inset-x-3 top-3 flex justify-between',
      button_previous: ROUND,
      button_next: ROUND,
      chevron: 'size-4 fill-ink',
      month_grid: 'border-collapse',
      weekday: 'size-8 text-sm font-medium text-ink-2',
      day: 'p-0 text-center',
      day_button: 'size-8 figures hover:bg-wash disabled:text-ink-2 disabled:opacity-50',
      selected: 'bg-accent text-accent-ink [&_button:hover]:bg-accent',
      today: 'font-bold underline decoration-2 underline-offset-4',
      outside: 'text-ink-2',
    }}
  />
);
