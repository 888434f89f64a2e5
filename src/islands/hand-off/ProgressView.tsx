/** How far each event is on each source, and what waits for whom. */
import { useMemo, useState } from 'react';
import { PROGRESS_STATES, progressCounts, type ProgressPair, type ProgressState } from '../../core/hand-off/progress';
import { settingsOf } from '../../core/plan/plan';
import { DataTable, type DataColumn } from '../../ui/DataTable';
import { dayText, instantText, plural } from '../../ui/format';
import { Rich } from '../../ui/Rich';
import { SourceMark } from '../../ui/SourceMark';
import { Empty, Failed, Loading } from '../../ui/States';
import { useView } from '../arrivals/use-view';
import { usePlan, useWorkplace } from '../workplace/context';
import { places } from '../workplace/place';

/** A bar that fills as an event comes nearer to being relied on; the word beside it says which state it is. */
const STEPS: Readonly<Record<ProgressState, number>> = {
  'held back': 0,
  ready: 1,
  'handed over': 2,
  built: 3,
  seen: 4,
  'trial failed': 4,
  verified: 5,
  'verified before': 4,
  retired: 0,
};

const StateMark = ({ state }: { state: ProgressState }) => (
  <span className="whitespace-nowrap">
    <svg width="44" height="10" viewBox="0 0 44 10" aria-hidden className="mr-2 inline-block">
      {[0, 1, 2, 3, 4].map((i) => (
        <rect
          key={i}
          x={i * 9 + 0.5}
          y="0.5"
          width="7"
          height="9"
          fill={i < STEPS[state] ? 'var(--ink)' : 'none'}
          stroke={state === 'held back' && i === 0 ? 'var(--caution-fill)' : 'var(--rule)'}
        />
      ))}
    </svg>
    <span
      className={state === 'held back' ? 'text-caution' : state === 'trial failed' ? 'text-stop' : state === 'verified' ? 'text-clear' : ''}
    >
      {state}
    </span>
  </span>
);

const keyOf = (p: ProgressPair): string => JSON.stringify([p.eventId, p.sourceId]);

export const ProgressView = () => {
  const plan = usePlan();
  const { go } = useWorkplace();
  const { timeZone } = settingsOf(plan);
  const { data, error, refetch } = useView('GET /api/progress');
  const [only, setOnly] = useState<ProgressState | ''>('');
  const [text, setText] = useState('');
  const columns = useMemo(
    (): readonly DataColumn<ProgressPair>[] => [
      {
        id: 'event',
        head: 'event',
        value: (p) => plan.event[p.eventId]?.name,
        cell: (p, before) => (
          <button
            type="button"
            className={`min-h-[24px] text-left wire hover:text-accent ${before?.eventId === p.eventId ? 'text-ink-2' : 'font-medium'}`}
            onClick={() => go(...places.handOff(p.eventId, p.sourceId))}
          >
            {plan.event[p.eventId]?.name}
          </button>
        ),
      },
      {
        id: 'source',
        head: 'source',
        className: 'whitespace-nowrap',
        value: (p) => plan.source[p.sourceId]?.name,
        cell: (p) => {
          const s = plan.source[p.sourceId];
          return s ? (
            <>
              <SourceMark letter={s.mark} kind={s.kind} name="" /> {s.name}
            </>
          ) : (
            p.sourceId
          );
        },
      },
      { id: 'state', head: 'state', value: (p) => PROGRESS_STATES.indexOf(p.state), cell: (p) => <StateMark state={p.state} /> },
      {
        id: 'since',
        head: 'since',
        className: 'whitespace-nowrap',
        value: (p) => p.since,
        cell: (p) => (p.since === undefined ? '' : <span title={instantText(p.since)}>{dayText(p.since, timeZone)}</span>),
      },
      { id: 'release', head: 'release', wire: true, className: 'whitespace-nowrap', value: (p) => p.release, cell: (p) => p.release },
      { id: 'waits', head: 'waits for', cell: (p) => <Rich text={p.waits} /> },
    ],
    [plan, go, timeZone],
  );
  if (error && !data) return <Failed what="The progress" error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the progress" />;
  if (data.length === 0)
    return (
      <Empty title="Nothing to build yet.">
        Events with a source appear here, with how far each is: held back, handed over, built, seen, verified.
      </Empty>
    );
  const counts = progressCounts(data);
  const wanted = text.toLowerCase();
  const shown = data.filter(
    (p) =>
      (only === '' || p.state === only) &&
      `${plan.event[p.eventId]?.name ?? ''} ${plan.source[p.sourceId]?.name ?? ''} ${p.waits}`.toLowerCase().includes(wanted),
  );
  return (
    <div className="px-7 py-5">
      <h1 className="text-[1.5rem] leading-tight font-bold">Progress</h1>
      <p className="mb-2 text-ink-2">
        {plural(data.length, 'pair')} of event and source. What arrives and what is tried moves them on; nobody sets these states by hand.
      </p>
      <div className="mb-3 flex flex-wrap items-center gap-1">
        {PROGRESS_STATES.filter((s) => counts[s] > 0).map((s) => (
          <button
            key={s}
            type="button"
            aria-pressed={only === s}
            onClick={() => setOnly(only === s ? '' : s)}
            className={`min-h-[24px] border px-2 ${only === s ? 'border-accent bg-wash font-semibold' : 'border-rule hover:border-ink-2'}`}
          >
            {counts[s]} {s}
          </button>
        ))}
        <input
          aria-label="Filter by event, source or what waits"
          placeholder="Filter"
          value={text}
          onChange={(e) => setText(e.target.value)}
          className="ml-auto w-44 border border-rule bg-transparent px-2 py-0.5 placeholder:text-ink-2"
        />
      </div>
      {shown.length === 0 ? (
        <Empty title="Nothing matches the filter." />
      ) : (
        <DataTable label="Progress" className="w-full" rows={shown} columns={columns} keyOf={keyOf} />
      )}
    </div>
  );
};
