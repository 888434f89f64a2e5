/** Bringing back an earlier state: what would change, entity by entity, each of which can be left out, and whose unpublished work would go. */
import { useState } from 'react';
import { KIND_WORD } from '../../core/plan/kind-words';
import type { Plan } from '../../core/plan/plan';
import { broughtBack, changeKey, restoring, workThatGoes } from '../../core/plan/restore';
import type { LoggedChange } from '../../core/plan/review';
import { Button } from '../../ui/Button';
import { DialogCard } from '../../ui/DialogCard';
import { plural } from '../../ui/format';
import { toast } from '../../ui/toast';
import { usePlan, useWorkplace } from '../workplace/context';

const WORD = { added: 'comes back', removed: 'goes', changed: 'as it was' } as const;
const MOST = 300;

export const RestoreDialog = ({
  what,
  earlier,
  log,
  publishedAt,
  onClose,
}: {
  /** Such as “version 3”. */
  what: string;
  earlier: Plan;
  log: readonly LoggedChange[];
  publishedAt: number;
  onClose: () => void;
}) => {
  const plan = usePlan();
  const { store } = useWorkplace();
  const changes = broughtBack(plan, earlier);
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const wanted = new Set(changes.map(changeKey).filter((k) => !left.has(k)));
  const work = workThatGoes(log, publishedAt, wanted);
  const toggle = (key: string): void => {
    const next = new Set(left);
    if (!next.delete(key)) next.add(key);
    setLeft(next);
  };
  const all = left.size === 0;
  const restore = (): void => {
    const edits = restoring(plan, earlier, wanted);
    const done = store.apply(edits, all ? `Restored ${what}` : `Restored ${plural(wanted.size, 'entry', 'entries')} of ${what}`, () =>
      toast(all ? `The draft is ${what} again. Undo with Ctrl Z; publish it to put it in force.` : `${plural(wanted.size, 'entry is', 'entries are')} as in ${what}. Undo with Ctrl Z.`),
    ); // prettier-ignore
    if (done) onClose();
  };
  return (
    <DialogCard title={`Bring ${what} back`} open onOpenChange={(open) => !open && onClose()} width="w-[640px]">
      {changes.length === 0 ? (
        <p className="text-ink-2">The draft says the same already.</p>
      ) : (
        <>
          <p className="text-ink-2">
            {plural(changes.length, 'entry differs', 'entries differ')} from the draft. What is left unticked stays as it is.
          </p>
          {work.by.length > 0 || work.isCut ? (
            <p role="status" className="mt-2 border-l-4 border-caution pl-3">
              Work that nobody has published goes with it
              {work.by.length > 0 ? ': ' : '.'}
              {work.by.map((w) => `${plural(w.changes, 'change')} by ${w.author || 'somebody'}`).join(', ')}
              {work.by.length > 0 ? '.' : ''}
              {work.isCut ? ` Only the newest ${log.length} changes were looked at: there may be more, and by others.` : ''}
            </p>
          ) : null}
          <ul tabIndex={0} aria-label="What changes" className="mt-3 max-h-72 overflow-y-auto border-y border-rule">
            {changes.slice(0, MOST).map((c) => (
              <li key={changeKey(c)} className="border-b border-rule py-1 last:border-b-0">
                <label className="flex items-baseline gap-3">
                  <input type="checkbox" checked={!left.has(changeKey(c))} onChange={() => toggle(changeKey(c))} />
                  <span className="w-24 shrink-0 text-sm font-semibold">{WORD[c.what]}</span>
                  <span className="w-28 shrink-0 text-ink-2">{KIND_WORD[c.kind]}</span>
                  <span className={`min-w-0 flex-1 truncate ${c.kind === 'question' ? '' : 'wire'}`}>{c.label}</span>
                </label>
              </li>
            ))}
          </ul>
          {changes.length > MOST ? <p className="mt-1 text-sm text-ink-2">And {changes.length - MOST} more, which come along.</p> : null}
        </>
      )}
      <div className="mt-5 flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        {changes.length > 0 ? (
          <Button look="full" onClick={restore} disabled={wanted.size === 0}>
            Bring {all ? 'all' : plural(wanted.size, 'entry', 'entries')} back
          </Button>
        ) : null}
      </div>
    </DialogCard>
  );
};
