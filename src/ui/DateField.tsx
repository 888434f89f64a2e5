/** A day, typed or chosen from a calendar, shown in the workspace's way: `5 Oct 2026`. Without a day it is empty. */
import { CalendarDays } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useId, useState } from 'react';
import { dayOf } from '../core/questions/calendar';
import { dayShown, readDay } from '../core/questions/day-text';
import { later } from './later';
import { useCommit } from './use-commit';
import { useNow } from './use-now';

const Calendar = later(() => import('./Calendar').then((m) => m.Calendar), <p className="p-4 text-ink-2">Loading the calendar …</p>);

interface Props {
  readonly label: string;
  /** As `2026-10-05`; empty for none. */
  readonly value: string;
  readonly timeZone: string;
  /** 1 is Monday, 7 Sunday. */
  readonly weekStartsOn: number;
  readonly max?: string;
  readonly placeholder?: string;
  readonly className?: string;
  readonly onChange: (day: string) => void;
}

export const DateField = ({ label, value, timeZone, weekStartsOn, max, placeholder = '5 Oct 2026', className = '', onChange }: Props) => {
  const [open, setOpen] = useState(false);
  const problemId = useId();
  const today = dayOf(useNow(), timeZone);
  const choose = (day: string): string | undefined => {
    if (max !== undefined && day > max) return `Choose a day up to ${dayShown(max)}.`;
    if (day !== value) onChange(day);
    return undefined;
  };
  const { problem, field, putBack } = useCommit(dayShown(value), (typed) => {
    if (typed.trim() === '') return choose('');
    const day = readDay(typed, Number(today.slice(0, 4)));
    return day === undefined ? `“${typed}” is not a day. Write it as 5 Oct 2026.` : choose(day);
  });
  return (
    <span className="inline-block">
      <span className={`inline-flex items-stretch border ${problem === undefined ? 'border-rule' : 'border-stop'} bg-paper ${className}`}>
        <input
          aria-label={label}
          aria-describedby={problem === undefined ? undefined : problemId}
          placeholder={placeholder}
          {...field}
          onKeyDown={(e) => {
            field.onKeyDown(e);
            if (e.key === 'ArrowDown' && e.altKey) setOpen(true);
          }}
          className="w-[7.2em] min-w-0 flex-1 bg-transparent px-2 py-1 placeholder:text-ink-2"
        />
        <Popover.Root open={open} onOpenChange={setOpen}>
          <Popover.Trigger aria-label={`${label}: choose in a calendar`} className="px-1.5 text-ink-2 hover:text-accent">
            <CalendarDays size={15} />
          </Popover.Trigger>
          <Popover.Portal>
            <Popover.Content align="end" sideOffset={4} className="z-50 border border-ink bg-paper">
              <Calendar
                day={value === '' ? undefined : value}
                today={today}
                max={max}
                weekStartsOn={(weekStartsOn % 7) as 0 | 1 | 2 | 3 | 4 | 5 | 6}
                onChoose={(day) => {
                  setOpen(false);
                  putBack();
                  choose(day);
                }}
              />
            </Popover.Content>
          </Popover.Portal>
        </Popover.Root>
      </span>
      {problem === undefined ? null : (
        <span id={problemId} role="alert" className="mt-0.5 block text-sm text-stop">
          {problem}
        </span>
      )}
    </span>
  );
};
