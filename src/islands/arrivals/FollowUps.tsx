/** What waits to be looked at again, with the clock of each wait. */
import { useMemo } from 'react';
import type { FollowUp, FollowUpState } from '../../core/arrival/follow-ups';
import { settingsOf } from '../../core/plan/plan';
import { ageText, dayText, instantText, plural, timeText, untilText } from '../../ui/format';
import { Rich } from '../../ui/Rich';
import { DataTable, type DataColumn } from '../../ui/DataTable';
import { SourceMark } from '../../ui/SourceMark';
import { Empty, Failed, Loading } from '../../ui/States';
import { usePlan, useWorkplace } from '../workplace/context';
import { places } from '../workplace/place';
import { useView } from './use-view';

const TONE: Record<FollowUpState, string> = {
  due: 'text-caution font-semibold',
  'too early': 'text-ink-2',
  waiting: 'text-ink',
  passed: 'text-clear',
};

/** How much of a wait is over. */
const Clock = ({ r, now }: { r: FollowUp; now: number }) => {
  const share = r.due > r.from ? Math.min(1, Math.max(0, (now - r.from) / (r.due - r.from))) : 1;
  return (
    <svg width="20" height="20" viewBox="-10 -10 20 20" role="img" aria-label={`${Math.round(share * 100)} % of the wait is over`}>
      <circle r="8.5" fill="none" stroke="var(--rule)" strokeWidth="2" />
      <circle
        r="8.5"
        fill="none"
        stroke={r.state === 'due' ? 'var(--caution-fill)' : 'var(--accent)'}
        strokeWidth="2"
        pathLength={1}
        strokeDasharray={`${share} 1`}
        transform="rotate(-90)"
      />
    </svg>
  );
};

const Source = ({ id }: { id: string }) => {
  const source = usePlan().source[id];
  return source ? (
    <>
      <SourceMark letter={source.mark} kind={source.kind} name="" /> {source.name}
    </>
  ) : (
    id
  );
};

export const FollowUps = () => {
  const plan = usePlan();
  const { go } = useWorkplace();
  const { timeZone } = settingsOf(plan);
  const { data, dataUpdatedAt: now, error, refetch } = useView('GET /api/follow-ups');
  const columns = useMemo(
    (): readonly DataColumn<FollowUp>[] => [
      { id: 'clock', head: <span className="sr-only">how much is over</span>, cell: (r) => <Clock r={r} now={now} /> },
      {
        id: 'state',
        head: 'state',
        className: 'w-28',
        value: (r) => r.state,
        cell: (r) => <span className={TONE[r.state]}>{r.state}</span>,
      },
      {
        id: 'what',
        head: 'what',
        value: (r) => r.eventName,
        cell: (r) => (
          <>
            <button
              type="button"
              className="block min-h-[24px] text-left wire hover:text-accent"
              onClick={() => go(...(r.finding === undefined ? places.arrivals('matrix') : places.finding(r.finding)))}
            >
              {r.eventName || 'any event'}
            </button>
            <span className="text-sm text-ink-2">
              {r.why === 'acknowledged' ? 'Left: ' : ''}
              <Rich text={r.text} />
            </span>
          </>
        ),
      },
      {
        id: 'source',
        head: 'source',
        className: 'w-44 whitespace-nowrap',
        value: (r) => r.sourceId,
        cell: (r) => <Source id={r.sourceId} />,
      },
      {
        id: 'since',
        head: 'since',
        className: 'w-36 whitespace-nowrap',
        value: (r) => r.from,
        cell: (r) => (
          <span title={instantText(r.from)}>
            {dayText(r.from, timeZone)} {timeText(r.from, timeZone).slice(0, 5)}
          </span>
        ),
      },
      {
        id: 'until',
        head: 'until',
        className: 'w-40 whitespace-nowrap',
        value: (r) => r.due,
        cell: (r) => <span title={instantText(r.due)}>{r.due > now ? untilText(r.due, now) : ageText(r.due, now)}</span>,
      },
    ],
    [now, go, timeZone],
  );
  if (error && !data) return <Failed what="The list" error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the list" />;
  if (data.length === 0)
    return (
      <Empty title="Nothing open.">
        Planned events that have not arrived, findings acknowledged until a date, and fixed findings are listed here.
      </Empty>
    );
  const due = data.filter((r) => r.state === 'due').length;
  return (
    <div className="min-h-0 flex-1 overflow-y-auto px-7 py-5">
      <h1 className="text-[1.5rem] leading-tight font-bold">Follow-ups</h1>
      <p className="mb-3 text-ink-2">
        {due === 0 ? 'Nothing is due.' : `${plural(due, 'wait')} ${due === 1 ? 'is' : 'are'} over.`} A published event has{' '}
        {settingsOf(plan).escalationHours} hours to arrive before its absence counts as a fault; for the first{' '}
        {settingsOf(plan).tooEarlyHours} it is too early to judge.
      </p>
      <DataTable label="Follow-ups" className="w-full" rows={data} columns={columns} keyOf={(r) => r.key} />
    </div>
  );
};
