/** The live view, folded to a line while a finding is open. */
import { useSyncExternalStore } from 'react';
import { settingsOf } from '../../core/plan/plan';
import { timeText } from '../../ui/format';
import { Button } from '../../ui/Button';
import { usePlan, useWorkplace } from '../workplace/context';
import { places } from '../workplace/place';
import { messageTitle } from './kind-text';

export const LiveLine = () => {
  const plan = usePlan();
  const { live, go } = useWorkplace();
  const { messages, connected } = useSyncExternalStore(live.subscribe, live.snapshot, live.snapshot);
  const newest = messages[0];
  return (
    <p className="sticky bottom-0 mt-auto flex items-center gap-2 border-t border-rule bg-ground px-4 py-1 text-sm">
      <span className="text-ink-2">{connected ? 'Live:' : 'Reconnecting …'}</span>
      {newest ? (
        <>
          <span className="truncate wire">{messageTitle(newest)}</span>
          <span className="text-ink-2 figures">{timeText(newest.receivedAt, settingsOf(plan).timeZone)}</span>
        </>
      ) : (
        <span className="text-ink-2">no messages yet</span>
      )}
      <Button look="quiet" className="ml-auto text-sm" onClick={() => go(...places.arrivals('live'))}>
        Open the live view
      </Button>
    </p>
  );
};
