/** Who changed what, and when; any change can be taken back from here. */
import { Age } from '../../ui/Age';
import { useInfiniteQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { applyEdits, invertAll } from '../../core/plan/edit';
import { toast } from '../../ui/toast';
import { labelOf, settingsOf } from '../../core/plan/plan';
import { Button } from '../../ui/Button';
import { dayText, plural, timeText } from '../../ui/format';
import { Failed, Loading } from '../../ui/States';
import { ask } from '../../client/api';
import { usePlan, useWorkplace } from '../workplace/context';
import type { LoggedChange } from '../../core/plan/review';
import { KIND_WORD } from '../../core/plan/kind-words';

const Row = ({ change }: { change: LoggedChange }) => {
  const plan = usePlan();
  const { store } = useWorkplace();
  const [open, setOpen] = useState(false);
  const { timeZone } = settingsOf(plan);
  const undo = () => {
    const back = invertAll(change.edits);
    const saved = () => toast('Reverted. Ctrl Z restores it.');
    if (store.apply(back, `Reverted: ${change.label || 'a change'}`, saved)) return;
    const r = applyEdits(plan, back);
    const where = r.ok ? '' : labelOf(r.problem.kind, plan[r.problem.kind][r.problem.id]);
    toast.error(`The same field was changed since${where ? `: ${where}` : ''}. Nothing was changed.`);
  };
  return (
    <div className="border-t border-rule py-1.5">
      <p className="flex items-baseline gap-3">
        <span className="w-32 shrink-0 text-sm text-ink-2" title={new Date(change.at).toISOString()}>
          {dayText(change.at, timeZone)} {timeText(change.at, timeZone).slice(0, 5)}
        </span>
        <b className="w-32 shrink-0 truncate">{change.author}</b>
        <button
          type="button"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
          className="min-h-[24px] min-w-0 flex-1 truncate text-left hover:text-accent"
        >
          {change.label || 'Change'} <span className="text-sm text-ink-2">({plural(change.edits.length, 'edit')})</span>
        </button>
        <span className="text-sm text-ink-2">
          <Age at={change.at} />
        </span>
        <Button look="quiet" className="text-sm" onClick={undo}>
          Take back
        </Button>
      </p>
      {open ? (
        <ul tabIndex={0} aria-label="Edits" className="mt-1 max-h-48 overflow-y-auto pl-[140px] text-sm">
          {change.edits.slice(0, 200).map((e, i) => (
            <li key={i} className="flex gap-2">
              <span className="text-ink-2">
                {e.op === 'set' ? `${KIND_WORD[e.kind]}, ${e.field}` : `${e.op === 'create' ? 'added' : 'removed'} ${KIND_WORD[e.kind]}`}
              </span>
              <span className="min-w-0 flex-1 truncate wire">
                {e.op === 'set' ? `${JSON.stringify(e.before) ?? '–'} → ${JSON.stringify(e.after) ?? '–'}` : labelOf(e.kind, e.body)}
              </span>
            </li>
          ))}
        </ul>
      ) : null}
    </div>
  );
};

export const Activity = () => {
  const [who, setWho] = useState('');
  const { data, error, refetch, fetchNextPage, hasNextPage, isFetchingNextPage } = useInfiniteQuery({
    queryKey: ['history', 'activity'],
    initialPageParam: 0,
    queryFn: ({ pageParam, signal }) => ask('GET /api/history', { query: { before: pageParam || undefined } }, signal),
    getNextPageParam: (last) => (last.older ? last.changes.at(-1)?.seq : undefined),
  });
  const changes = useMemo(() => data?.pages.flatMap((p) => p.changes) ?? [], [data]);
  if (error) return <Failed what="The activity" error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the activity" />;
  const people = [...new Set(changes.map((c) => c.author))];
  const shown = who ? changes.filter((c) => c.author === who) : changes;
  return (
    <div className="px-7 py-5">
      <div className="mb-2 flex items-center gap-4">
        <h2 className="text-lg font-bold">Activity</h2>
        <label className="flex items-center gap-1.5 text-ink-2">
          by
          <select value={who} onChange={(e) => setWho(e.target.value)} className="border border-rule bg-paper py-0.5 text-ink">
            <option value="">everybody</option>
            {people.map((p) => (
              <option key={p}>{p}</option>
            ))}
          </select>
        </label>
      </div>
      {shown.map((c) => (
        <Row key={c.seq} change={c} />
      ))}
      {shown.length === 0 ? <p className="text-ink-2">No change yet.</p> : null}
      {hasNextPage ? (
        <Button className="mt-3" disabled={isFetchingNextPage} onClick={() => void fetchNextPage()}>
          Earlier
        </Button>
      ) : null}
    </div>
  );
};
