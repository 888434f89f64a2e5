/** Says of a finding that it is known: why, until when, who fixes it; or takes that back. */
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { zodResolver } from '@hookform/resolvers/zod';
import { Controller, useForm } from 'react-hook-form';
import { z } from 'zod';
import { useNow } from '../../ui/use-now';
import type { TriagedFinding } from '../../core/arrival/triage';
import { settingsOf } from '../../core/plan/plan';
import { DateField } from '../../ui/DateField';
import { dayBounds, dayOf } from '../../core/questions/calendar';
import { Button } from '../../ui/Button';
import { Cancel, OpenForm } from '../../ui/OpenForm';
import { dayText, instantText } from '../../ui/format';
import { ask } from '../../client/api';
import { authorName } from '../workplace/author';
import { DAY_MS } from '../../core/time';
import { usePlan } from '../workplace/context';

const FIELD = 'mt-1 w-full border border-rule bg-transparent px-2 py-1 focus:border-accent';
const DEFAULT_DAYS = 14;

const acknowledgedForm = z.object({
  reason: z.string().trim().min(1, 'Write why it is acknowledged.').max(1000, 'At most 1,000 characters.'),
  until: z.string().min(1, 'Choose the day until which it is acknowledged.'),
  assignee: z.string().trim().max(200, 'At most 200 characters.'),
});

export const Triage = ({ group, owner }: { group: TriagedFinding; owner: string }) => {
  const queries = useQueryClient();
  const { timeZone, weekStartsOn } = settingsOf(usePlan());
  const [open, setOpen] = useState(false);
  const [error, setError] = useState('');
  const { register, control, handleSubmit, formState } = useForm({
    resolver: zodResolver(acknowledgedForm),
    defaultValues: { reason: '', until: dayOf(useNow() + DEFAULT_DAYS * DAY_MS, timeZone), assignee: '' },
  });
  const send = async (body: { open: true } | { reason: string; until: number; assignee: string }) => {
    try {
      await ask('POST /api/findings', { body: { key: group.key, author: authorName(), ...body } });
      setOpen(false);
      setError('');
      await queries.invalidateQueries({ queryKey: ['findings'] });
    } catch (e) {
      setError((e as Error).message);
    }
  };
  const said = group.acknowledgement;
  if (group.state === 'fixed') return <p className="w-full text-clear">Fixed: the same events keep arriving without it.</p>;
  if (group.state === 'acknowledged' && said)
    return (
      <p className="flex w-full flex-wrap items-baseline gap-x-3">
        <span>
          Acknowledged by {said.author} until <span title={instantText(said.until)}>{dayText(said.until, timeZone)}</span>: {said.reason}
          {said.assignee === '' ? '' : ` (${said.assignee})`}
        </span>
        <Button look="quiet" className="text-sm" onClick={() => void send({ open: true })}>
          Reopen
        </Button>
      </p>
    );
  if (!open)
    return (
      <Button className="text-sm" onClick={() => setOpen(true)}>
        Acknowledge …
      </Button>
    );
  const { reason: reasonProblem, until: untilProblem } = formState.errors;
  const problem = reasonProblem?.message ?? untilProblem?.message ?? error;
  return (
    <OpenForm
      onClose={() => setOpen(false)}
      className="grid w-full max-w-[560px] grid-cols-2 gap-x-4 gap-y-2 border border-rule p-3"
      onSubmit={(e) =>
        void handleSubmit(({ until, ...given }) => {
          const day = dayBounds(until, timeZone);
          return day === undefined ? undefined : send({ ...given, until: day.to - 1 });
        })(e)
      }
    >
      <label className="col-span-2 text-sm text-ink-2">
        Why it is acknowledged
        <input
          autoFocus
          autoComplete="off"
          aria-invalid={reasonProblem !== undefined}
          className={`${FIELD} text-ink`}
          {...register('reason')}
        />
      </label>
      <div className="text-sm text-ink-2">
        Until
        <Controller
          control={control}
          name="until"
          render={({ field: { value, onChange } }) => (
            <DateField
              label="Until"
              className="mt-1 w-full text-ink"
              value={value}
              timeZone={timeZone}
              weekStartsOn={weekStartsOn}
              onChange={onChange}
            />
          )}
        />
      </div>
      <label className="text-sm text-ink-2">
        Who fixes it
        <input className={`${FIELD} text-ink`} autoComplete="off" placeholder={owner} {...register('assignee')} />
      </label>
      {problem === '' ? null : (
        <p role="alert" className="col-span-2 text-sm text-stop">
          {problem}
        </p>
      )}
      <p className="col-span-2 flex gap-2">
        <Button look="full" type="submit" className="text-sm">
          Acknowledge
        </Button>
        <Cancel />
      </p>
    </OpenForm>
  );
};
