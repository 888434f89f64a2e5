/** “This is me”: narrows the live view to one person by any identifier, and says when others may share it. */
import { useState } from 'react';
import { UserRound, X } from 'lucide-react';
import { identifiersOf } from '../../core/arrival/me';
import type { LiveMessage } from '../../core/arrival/live-message';
import { entries } from '../../core/plan/plan';
import { Button } from '../../ui/Button';
import { Cancel, OpenForm } from '../../ui/OpenForm';
import { usePlan } from '../workplace/context';

const OFFERED = 40;

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
  const [text, setText] = useState('');
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
  const choose = (v: string): void => {
    if (v.trim() === '') return;
    onMe(v.trim());
    setText('');
    setOpen(false);
  };
  return (
    <OpenForm onClose={() => setOpen(false)} className="flex w-full items-center gap-2 px-3 pb-1" onSubmit={() => choose(text)}>
      <input
        autoFocus
        list="identifiers-in-sight"
        aria-label="An identifier of mine"
        placeholder="user ID, device ID or anonymous ID"
        value={text}
        onChange={(e) => setText(e.target.value)}
        className="min-w-0 flex-1 border border-ink-2 bg-transparent px-2 py-0.5 wire placeholder:font-sans placeholder:text-ink-2"
      />
      <datalist id="identifiers-in-sight">
        {[...seen].slice(0, OFFERED).map(([value, kind]) => (
          <option key={value} value={value}>
            {kind}
          </option>
        ))}
      </datalist>
      <Button type="submit" className="text-sm">
        Show only me
      </Button>
      <Cancel />
    </OpenForm>
  );
};
