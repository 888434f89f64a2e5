/** How far the recorded messages are checked against a version just published; nothing when all are. */
import { count } from '../../ui/format';
import { ProgressBar } from '../../ui/ProgressBar';
import { useDraft } from './context';

export const RecheckProgress = () => {
  const { server } = useDraft();
  if (!server?.recheck) return null;
  const { done, total } = server.recheck;
  return (
    <div role="status" className="border-b border-rule px-4 py-2 text-sm">
      <p className="text-ink-2">
        Checking recorded messages against version {server.published?.number}: {count(done)} of {count(total)}.
      </p>
      <ProgressBar done={done} total={total} label="Checking recorded messages" className="mt-1 w-full" />
    </div>
  );
};
