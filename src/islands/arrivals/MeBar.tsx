/** “This is me”: narrows the live view to one person by any identifier, and says when others may share it. */
import { useState } from 'react';
import { UserRound, X } from 'lucide-react';
import { identifiersOf } from '../../core/arrival/me';
import type { LiveMessage } from '../../core/arrival/live-message';
import { entries } from '../../core/plan/plan';
import { Button } from '../../ui/Button';
import { later } from '../../ui/later';
import { usePlan } from '../workplace/context';

const MeForm = later(() => import('./MeForm').then((m) => m.MeForm), null, true);

export const MeBar = ({
  messages,
  me,
  mine,
  onMe,
}: {
  messages: readonly LiveMessage[];
  me: string | undefined;
  mine: ReadonlySet<string>;
  onMe: (identifier: string | undefined) => void;
}) => {
  const plan = usePlan();
  const [open, setOpen] = useState(false);
  const seen = new Map<string, string>();
  for (const m of messages) for (const [kind, value] of Object.entries(identifiersOf(m))) if (!seen.has(value)) seen.set(value, kind);
  const identifies = (kind: string | undefined) => entries(plan, 'identifierKind').find(([, k]) => k.name === kind)?.[1].identifies;
  const signedIn = [...mine].some((v) => identifies(seen.get(v)) === 'person');
  if (me !== undefined)
    return (
      <p role="status" className="order-first flex w-full flex-wrap items-center gap-x-3 border-b border-rule bg-wash px-3 py-1">
        <UserRound size={15} />
        <span>
          Only <b className="wire">{me}</b>
          {mine.size > 1 ? (
            <span className="text-ink-2">
              {' '}
              with{' '}
              <span className="wire">
                {[...mine]
                  .filter((v) => v !== me)
                  .slice(0, 3)
                  .join(', ')}
              </span>
              {mine.size > 4 ? ` and ${mine.size - 4} more` : ''}
            </span>
          ) : null}
        </span>
        {!seen.has(me) ? <span className="text-ink-2">No message in view carries it yet.</span> : null}
        {seen.has(me) && !signedIn ? <span className="text-caution">Not signed in: others may share this device.</span> : null}
        <Button look="quiet" className="ml-auto text-sm" onClick={() => onMe(undefined)}>
          <X size={14} /> Everybody
        </Button>
      </p>
    );
  if (!open)
    return (
      <div className="px-1 py-0.5">
        <Button look="quiet" className="text-sm" onClick={() => setOpen(true)}>
          <UserRound size={14} /> This is me …
        </Button>
      </div>
    );
  return (
    <MeForm
      seen={seen}
      onClose={() => setOpen(false)}
      onMe={(v) => {
        onMe(v);
        setOpen(false);
      }}
    />
  );
};
