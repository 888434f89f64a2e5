/** Somebody's word on a question, with a reason, until a day: a sign-off, or a waiver. */
import { useState } from 'react';
import { settingsOf } from '../../core/plan/plan';
import { dayBounds } from '../../core/questions/calendar';
import { Button } from '../../ui/Button';
import { Cancel, OpenForm } from '../../ui/OpenForm';
import { DateField } from '../../ui/DateField';
import { Rich } from '../../ui/Rich';
import { usePlan } from '../workplace/context';

interface Props {
  readonly label: string;
  readonly placeholder: string;
  readonly action: string;
  /** Without a day it holds for ever; where that may not be, it cannot be sent without one. */
  readonly needsDay: boolean;
  readonly onClose: () => void;
  /** `until`: the end of the chosen day, UTC epoch ms. Errors: throws what is said to whoever wrote it. */
  readonly onSend: (reason: string, until: number | null) => Promise<void>;
}

export const WordForm = ({ label, placeholder, action, needsDay, onClose, onSend }: Props) => {
  const { timeZone, weekStartsOn } = settingsOf(usePlan());
  const [reason, setReason] = useState('');
  const [day, setDay] = useState('');
  const [error, setError] = useState('');
  return (
    <OpenForm
      onClose={onClose}
      className="mt-2 flex flex-wrap items-center gap-2"
      onSubmit={() => {
        onSend(reason, dayBounds(day, timeZone)?.to ?? null).catch((thrown: unknown) => setError((thrown as Error).message));
      }}
    >
      <input
        autoFocus
        aria-label={label}
        placeholder={placeholder}
        value={reason}
        onChange={(e) => setReason(e.target.value)}
        className="min-w-[220px] flex-1 border border-rule bg-transparent px-2 py-1 placeholder:text-ink-2"
      />
      <DateField
        label="Until"
        placeholder={needsDay ? 'last day' : 'no end'}
        value={day}
        timeZone={timeZone}
        weekStartsOn={weekStartsOn}
        onChange={setDay}
      />
      <Button type="submit" look="full" disabled={reason.trim() === '' || (needsDay && day === '')}>
        {action}
      </Button>
      <Cancel />
      {error ? (
        <p role="alert" className="w-full text-stop">
          <Rich text={error} />
        </p>
      ) : null}
    </OpenForm>
  );
};
