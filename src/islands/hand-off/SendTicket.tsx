/** One ticket for a whole source, or for what changed: sent to the tracker, with its address kept at each event. */
import { useQueryClient } from '@tanstack/react-query';
import { Send } from 'lucide-react';
import { useState } from 'react';
import { ask } from '../../client/api';
import type { Id } from '../../core/plan/plan';
import { Button } from '../../ui/Button';
import { plural } from '../../ui/format';
import { toast } from '../../ui/toast';
import { useView } from '../arrivals/use-view';
import { authorName } from '../workplace/author';

export const SendTicket = ({ sourceId, from }: { sourceId: Id; from?: number | undefined }) => {
  const queries = useQueryClient();
  const tracker = useView('GET /api/tracker');
  const [busy, setBusy] = useState(false);
  if (!tracker.data) return null;
  const send = async (): Promise<void> => {
    setBusy(true);
    try {
      const { address, events } = await ask('POST /api/hand-overs', {
        body: { sourceId, send: true, author: authorName(), ...(from === undefined ? {} : { from }) },
      });
      toast(`${plural(events, 'event')} handed over${address === '' ? '' : `: ${address}`}`);
      await queries.invalidateQueries({ queryKey: ['view', 'GET /api/progress'] });
    } catch (e) {
      toast.error((e as Error).message);
    }
    setBusy(false);
  };
  return (
    <Button disabled={busy} onClick={() => void send()}>
      <Send size={14} /> Send to tracker
    </Button>
  );
};
