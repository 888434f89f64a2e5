/** Handing an event over to whoever builds it: with a ticket of one’s own, or through the tracker. */
import { useQueryClient } from '@tanstack/react-query';
import { ExternalLink, Send } from 'lucide-react';
import { useState } from 'react';
import { ask } from '../../client/api';
import type { ProgressPair } from '../../core/hand-off/progress';
import type { Id } from '../../core/plan/plan';
import { Age } from '../../ui/Age';
import { Button } from '../../ui/Button';
import { MarginPart } from '../../ui/Frame';
import { TextField } from '../../ui/TextField';
import { toast } from '../../ui/toast';
import { useView } from '../arrivals/use-view';
import { authorName } from '../workplace/author';

export const HandOverPart = ({
  eventId,
  sourceId,
  pair,
  held,
}: {
  eventId: Id;
  sourceId: Id;
  pair: ProgressPair | undefined;
  held: boolean;
}) => {
  const queries = useQueryClient();
  const tracker = useView('GET /api/tracker');
  const [busy, setBusy] = useState(false);
  const [naming, setNaming] = useState(false);
  const refresh = async (): Promise<void> => {
    await queries.invalidateQueries({ queryKey: ['view', 'GET /api/progress'] });
    await queries.invalidateQueries({ queryKey: ['view', 'GET /api/tracker'] });
  };
  const act = async (work: () => Promise<unknown>): Promise<void> => {
    setBusy(true);
    try {
      await work();
      await refresh();
    } catch (e) {
      toast.error((e as Error).message);
    }
    setBusy(false);
  };
  const over = (more: { address?: string; send?: boolean }): Promise<void> =>
    act(() => ask('POST /api/hand-overs', { body: { eventId, sourceId, author: authorName(), ...more } }));
  const done = pair?.handOver;
  return (
    <MarginPart title="Hand over">
      {done ? (
        <p className="mb-1">
          Handed over by {done.author}, <Age at={done.at} />
          {done.planVersion > 0 ? `, version ${done.planVersion}` : ''}.
        </p>
      ) : (
        <p className="mb-1 text-ink-2">{held ? 'Held back until it is complete.' : 'Not handed over yet.'}</p>
      )}
      {done?.address ? (
        <a className="flex min-h-[24px] items-center gap-1 break-all text-accent" href={done.address} target="_blank" rel="noreferrer">
          <ExternalLink size={14} /> {done.address.replace(/^https?:\/\//, '').slice(0, 60)}
        </a>
      ) : null}
      {held ? null : (
        <>
          <div className="mt-1 text-sm text-ink-2">
            Ticket address
            <TextField
              label="Address of the ticket"
              value={done?.address ?? ''}
              placeholder="https://…"
              className="wire"
              onSave={(address) => void over({ address })}
            />
          </div>
          <span className="mt-2 flex flex-wrap gap-1">
            {done ? null : (
              <Button className="text-sm" disabled={busy} onClick={() => void over({})}>
                Mark as handed over
              </Button>
            )}
            {tracker.data ? (
              <Button className="text-sm" disabled={busy} onClick={() => void over({ send: true })}>
                <Send size={14} /> Send to tracker
              </Button>
            ) : null}
          </span>
        </>
      )}
      <button
        type="button"
        className="mt-2 block min-h-[24px] text-sm text-accent underline decoration-dotted"
        onClick={() => setNaming(!naming)}
      >
        {tracker.data ? 'Change the tracker …' : 'Set up a tracker …'}
      </button>
      {naming ? (
        <div className="mt-1 text-sm">
          <TextField
            label="Address that tickets are sent to"
            value={tracker.data?.address ?? ''}
            placeholder={`${location.origin}/stand-ins/receiver`}
            className="wire"
            autoFocus
            onSave={(address) => void act(() => ask('POST /api/tracker', { body: { address, author: authorName() } }))}
          />
          <p className="mt-1 text-ink-2">
            Each ticket is posted there as a signed CloudEvent; an answer with <span className="wire">url</span> is kept as the ticket’s
            address.
          </p>
          {tracker.data ? <p className="mt-1 wire break-all">{tracker.data.secret}</p> : null}
        </div>
      ) : null}
    </MarginPart>
  );
};
