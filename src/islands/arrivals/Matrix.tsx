/** Event × source × day: where something is planned, where it comes, where it stopped. */
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { ArrivalMatrix, MatrixRow, MatrixState } from '../../core/arrival/matrix';
import { settingsOf } from '../../core/plan/plan';
import { ageText, count, dayText, instantText } from '../../ui/format';
import { SourceMark } from '../../ui/SourceMark';
import { Empty, Failed, Loading } from '../../ui/States';
import { get } from '../workplace/api';
import { usePlan, useWorkplace } from '../workplace/context';

const WORDS: Record<MatrixState, { text: string; tone: string }> = {
  seen: { text: 'seen', tone: 'text-clear' },
  silent: { text: 'silent', tone: 'text-stop' },
  'too early': { text: 'too early to judge', tone: 'text-ink-2' },
  waiting: { text: 'waiting', tone: 'text-ink-2' },
  never: { text: 'never seen', tone: 'text-caution' },
  'not planned': { text: 'not planned', tone: 'text-caution' },
  'not built': { text: 'not built yet', tone: 'text-ink-2' },
};

const CELL = 14;
const HEIGHT = 20;

/** One bar a day, of equal scale within the row; a day without a message is a dot on the ground line. */
const Days = ({ row, days, timeZone }: { row: MatrixRow; days: readonly number[]; timeZone: string }) => {
  const most = Math.max(1, ...row.counts);
  return (
    <svg
      width={days.length * CELL}
      height={HEIGHT + 2}
      role="img"
      aria-label={`${row.eventName}: ${row.counts.join(', ')} messages a day`}
      className="block"
    >
      {row.counts.map((n, i) => {
        const height = n === 0 ? 1.5 : Math.max(3, (n / most) * HEIGHT);
        return (
          <g key={days[i]}>
            <title>{`${dayText(days[i]!, timeZone)}: ${count(n)}`}</title>
            <rect x={i * CELL} y={0} width={CELL} height={HEIGHT + 2} fill="transparent" />
            <rect
              x={i * CELL + (n === 0 ? 5 : 2)}
              y={HEIGHT + 1 - height}
              width={n === 0 ? 3 : CELL - 4}
              height={height}
              fill={n === 0 ? 'var(--ink-2)' : row.state === 'not planned' ? 'var(--caution-fill)' : 'var(--accent)'}
              opacity={i === days.length - 1 ? 0.45 : 1}
            />
          </g>
        );
      })}
    </svg>
  );
};

export const Matrix = () => {
  const plan = usePlan();
  const { go } = useWorkplace();
  const { timeZone } = settingsOf(plan);
  const [filter, setFilter] = useState('');
  const { data, error, refetch } = useQuery({
    queryKey: ['matrix'],
    queryFn: ({ signal }) => get<ArrivalMatrix>('/api/matrix', signal),
    staleTime: 10_000,
    refetchInterval: 15_000,
  });
  if (error && !data) return <Failed what="The matrix" error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the matrix" />;
  if (data.rows.length === 0)
    return (
      <Empty title="Nothing is planned and nothing was sent.">Plan an event, or send a message with a key from the Hand-off station.</Empty>
    );
  const needle = filter.trim().toLowerCase();
  const nameOf = (r: MatrixRow) => plan.source[r.sourceId]?.name ?? r.sourceId;
  const shown = data.rows.filter((r) => `${r.eventName} ${nameOf(r)} ${WORDS[r.state].text}`.toLowerCase().includes(needle));
  const eventIds = new Map(Object.entries(plan.event).map(([id, e]) => [e.name, id]));
  return (
    <div className="px-6 py-4">
      <h1 className="text-[1.2rem] font-bold">Where and when events came</h1>
      <p className="mb-3 text-ink-2">
        Four weeks, a bar a day, each row to its own scale. The last day is not over. {count(shown.length)} of {count(data.rows.length)}{' '}
        rows.
      </p>
      <input
        type="search"
        aria-label="Filter the matrix"
        placeholder="Filter by event, source or state"
        value={filter}
        onChange={(e) => setFilter(e.target.value)}
        className="mb-3 w-80 border border-rule bg-transparent px-2 py-1"
      />
      <table className="border-collapse">
        <thead>
          <tr className="text-left text-sm text-ink-2">
            <th className="pr-4 font-medium">event</th>
            <th className="pr-3 font-medium">from</th>
            <th className="pr-3 font-medium">
              {dayText(data.days[0]!, timeZone)} to {dayText(data.days.at(-1)!, timeZone)}
            </th>
            <th className="pr-4 text-right font-medium">messages</th>
            <th className="font-medium">state</th>
          </tr>
        </thead>
        <tbody>
          {shown.map((r, i) => {
            const source = plan.source[r.sourceId];
            const id = eventIds.get(r.eventName);
            return (
              <tr key={`${r.eventName} ${r.sourceId}`} className="border-t border-rule">
                <td className="pr-4 wire whitespace-nowrap">
                  {shown[i - 1]?.eventName === r.eventName ? null : id === undefined ? (
                    r.eventName
                  ) : (
                    <button type="button" className="min-h-[26px] hover:text-accent" onClick={() => go('plan', `event:${id}`)}>
                      {r.eventName}
                    </button>
                  )}
                </td>
                <td className="pr-3">{source ? <SourceMark letter={source.mark} kind={source.kind} name={source.name} /> : r.sourceId}</td>
                <td className="py-1 pr-3">
                  <Days row={r} days={data.days} timeZone={timeZone} />
                </td>
                <td className="pr-4 text-right figures">{count(r.total)}</td>
                <td
                  className={`whitespace-nowrap ${WORDS[r.state].tone}`}
                  title={r.lastAt === undefined ? '' : `last ${instantText(r.lastAt)}`}
                >
                  {WORDS[r.state].text}
                  {r.state === 'silent' && r.lastAt !== undefined ? ` for ${ageText(r.lastAt, Date.now()).replace(' ago', '')}` : ''}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
};
