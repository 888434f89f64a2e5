/** Says of a finding that it is known: why, until when, who mends it; or takes that back. */
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { TriagedFinding } from '../../core/arrival/triage';
import { settingsOf } from '../../core/plan/plan';
import { dayBounds, dayOf } from '../../core/questions/calendar';
import { DAY_MS } from '../../core/questions/formula';
import { Button } from '../../ui/Button';
import { dayText, instantText } from '../../ui/format';
import { post } from '../workplace/api';
import { authorName } from '../workplace/author';
import { usePlan } from '../workplace/context';

const FIELD = 'mt-1 w-full border border-rule bg-transparent px-2 py-1 focus:border-accent';
const DEFAULT_DAYS = 14;

export const Triage = ({ group, owner }: { group: TriagedFinding; owner: string }) => {
  const queries = useQueryClient();
  const { timeZone } = settingsOf(usePlan());
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState('');
  const [until, setUntil] = useState(() => dayOf(Date.now() + DEFAULT_DAYS * DAY_MS, timeZone));
  const [assignee, setAssignee] = useState('');
  const [error, setError] = useState('');
  const send = async (body: object) => {
    try {
      await post('/api/findings', { key: group.key, author: authorName(), ...body });
      setOpen(false);
      setError('');
      await queries.invalidateQueries({ queryKey: ['findings'] });
    } catch (e) {
      setError((e as Error).message);
    }
  };
  const said = group.acknowledgement;
  if (group.state === 'mended') return <p className="w-full text-clear">Mended: the same events kept coming without it.</p>;
  if (group.state === 'acknowledged' && said)
    return (
      <p className="flex w-full flex-wrap items-baseline gap-x-3">
        <span>
          Acknowledged by {said.author} until <span title={instantText(said.until)}>{dayText(said.until, timeZone)}</span>: {said.reason}
          {said.assignee === '' ? '' : ` (${said.assignee})`}
        </span>
        <Button look="quiet" className="text-sm" onClick={() => void send({ open: true })}>
          Open it again
        </Button>
      </p>
    );
  if (!open)
    return (
      <Button className="text-sm" onClick={() => setOpen(true)}>
        Acknowledge …
      </Button>
    );
  return (
    <form
      className="grid w-full max-w-[560px] grid-cols-2 gap-x-4 gap-y-2 border border-rule p-3"
      onSubmit={(e) => {
        e.preventDefault();
        const day = dayBounds(until, timeZone);
        if (day) void send({ reason, until: day.to - 1, assignee });
      }}
    >
      <label className="col-span-2 text-sm text-ink-2">
        Why it is left as it is for now
        <input autoFocus className={`${FIELD} text-ink`} value={reason} onChange={(e) => setReason(e.target.value)} required />
      </label>
      <label className="text-sm text-ink-2">
        Until
        <input type="date" className={`${FIELD} text-ink`} value={until} onChange={(e) => setUntil(e.target.value)} required />
      </label>
      <label className="text-sm text-ink-2">
        Who mends it
        <input className={`${FIELD} text-ink`} placeholder={owner} value={assignee} onChange={(e) => setAssignee(e.target.value)} />
      </label>
      {error === '' ? null : (
        <p role="alert" className="col-span-2 text-sm text-stop">
          {error}
        </p>
      )}
      <p className="col-span-2 flex gap-2">
        <Button look="full" type="submit" className="text-sm">
          Acknowledge
        </Button>
        <Button look="quiet" className="text-sm" onClick={() => setOpen(false)}>
          Leave it open
        </Button>
      </p>
    </form>
  );
};
