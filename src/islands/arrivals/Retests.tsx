/** What waits to be looked at again, with the clock of each wait. */
import type { Retest, RetestState } from '../../core/arrival/retests';
import { settingsOf } from '../../core/plan/plan';
import { ageText, dayText, instantText, plural, timeText, untilText } from '../../ui/format';
import { Rich } from '../../ui/Rich';
import { SourceMark } from '../../ui/SourceMark';
import { Empty, Failed, Loading } from '../../ui/States';
import { usePlan, useWorkplace } from '../workplace/context';
import { useView } from './use-view';

const TONE: Record<RetestState, string> = {
  due: 'text-caution font-semibold',
  'too early': 'text-ink-2',
  waiting: 'text-ink',
  passed: 'text-clear',
};

/** How much of a wait is over. */
const Clock = ({ r, now }: { r: Retest; now: number }) => {
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

export const Retests = () => {
  const plan = usePlan();
  const { go } = useWorkplace();
  const { timeZone } = settingsOf(plan);
  const { data, dataUpdatedAt: now, error, refetch } = useView<Retest[]>('/api/retests');
  if (error && !data) return <Failed what="The list" error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the list" />;
  if (data.length === 0)
    return (
      <Empty title="Nothing waits.">
        Events that were planned and have not come, findings that somebody left until a day, and mended ones stand here.
      </Empty>
    );
  const due = data.filter((r) => r.state === 'due').length;
  return (
    <div className="min-h-0 flex-1 overflow-y-auto px-7 py-5">
      <h1 className="text-[1.5rem] leading-tight font-bold">To look at again</h1>
      <p className="mb-3 text-ink-2">
        {due === 0 ? 'Nothing is due.' : `${plural(due, 'wait')} ${due === 1 ? 'is' : 'are'} over.`} An event that was published is waited
        for {settingsOf(plan).escalationHours} hours before its absence counts as a fault; before {settingsOf(plan).tooEarlyHours} it is too
        early to say.
      </p>
      <table className="w-full border-collapse">
        <thead>
          <tr className="text-left text-sm text-ink-2">
            <th className="w-8" />
            <th className="w-28 font-medium">state</th>
            <th className="font-medium">what</th>
            <th className="w-36 font-medium">source</th>
            <th className="w-32 font-medium">since</th>
            <th className="w-44 font-medium">until</th>
          </tr>
        </thead>
        <tbody>
          {data.map((r) => (
            <tr key={r.key} className="border-t border-rule align-top">
              <td className="py-1.5">
                <Clock r={r} now={now} />
              </td>
              <td className={`py-1.5 ${TONE[r.state]}`}>{r.state}</td>
              <td className="py-1.5 pr-4">
                <button
                  type="button"
                  className="block min-h-[24px] text-left wire hover:text-accent"
                  onClick={() => go('arrivals', r.finding ?? 'matrix')}
                >
                  {r.eventName || 'any event'}
                </button>
                <span className="text-sm text-ink-2">
                  {r.why === 'acknowledged' ? 'Left: ' : ''}
                  <Rich text={r.text} />
                </span>
              </td>
              <td className="py-1.5">
                <Source id={r.sourceId} />
              </td>
              <td className="py-1.5 whitespace-nowrap" title={instantText(r.from)}>
                {dayText(r.from, timeZone)} {timeText(r.from, timeZone).slice(0, 5)}
              </td>
              <td className="py-1.5 whitespace-nowrap" title={instantText(r.due)}>
                {r.due > now ? untilText(r.due, now) : ageText(r.due, now)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
};
