/** How many alerts are open; leads to them. */
import { Inbox } from 'lucide-react';
import { plural } from '../../ui/format';
import { useWorkplace } from './context';
import { places } from './place';
import { useOpenAlerts } from './queries';

export const AlertsBadge = () => {
  const { go } = useWorkplace();
  const open = useOpenAlerts().data?.open;
  const text = open === undefined ? 'Alerts' : open === 0 ? 'No open alerts' : plural(open, 'open alert');
  return (
    <button
      type="button"
      aria-label={text}
      title={text}
      className="inline-flex items-center gap-0.5 p-1 text-ink-2 hover:text-accent"
      onClick={() => go(...places.alerts())}
    >
      <Inbox size={15} />
      {open ? <b className="text-sm text-stop">{open > 99 ? '99+' : open}</b> : null}
    </button>
  );
};
