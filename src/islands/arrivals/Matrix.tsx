/** Event × source × day: where something is planned, where it comes, where it stopped. */
import { useNow } from '../../ui/use-now';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import type { MatrixRow, MatrixState } from '../../core/arrival/matrix';
import { settingsOf } from '../../core/plan/plan';
import { ageText, count, dayText, instantText } from '../../ui/format';
import { eventNamed } from '../../core/plan/plan-index';
import { DataTable, type DataColumn } from '../../ui/DataTable';
import { SourceMark } from '../../ui/SourceMark';
import { Empty, Failed, Loading } from '../../ui/States';
import { ask } from '../../client/api';
import { places } from '../workplace/place';
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
  const max = Math.max(1, ...row.counts);
  return (
    <svg
      width={days.length * CELL}
      height={HEIGHT + 2}
      role="img"
      aria-label={`${row.eventName}: ${row.counts.join(', ')} messages a day`}
      className="block"
    >
      {row.counts.map((n, i) => {
        const height = n === 0 ? 1.5 : Math.max(3, (n / max) * HEIGHT);
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
  const now = useNow();
  const plan = usePlan();
  const { go } = useWorkplace();
  const { timeZone } = settingsOf(plan);
  const [filter, setFilter] = useState('');
  const { data, error, refetch } = useQuery({
    queryKey: ['matrix'],
    queryFn: ({ signal }) => ask('GET /api/matrix', {}, signal),
    staleTime: 10_000,
    refetchInterval: 15_000,
  });
  const nameOf = (r: MatrixRow): string => plan.source[r.sourceId]?.name ?? r.sourceId;
  const needle = filter.trim().toLowerCase();
  const shown = useMemo(
    () =>
      (data?.rows ?? []).filter((r) =>
        `${r.eventName} ${plan.source[r.sourceId]?.name ?? r.sourceId} ${WORDS[r.state].text}`.toLowerCase().includes(needle),
      ),
    [data, needle, plan],
  );
  const columns: readonly DataColumn<MatrixRow>[] = [
    {
      id: 'event',
      head: 'event',
      wire: true,
      className: 'whitespace-nowrap',
      value: (r) => r.eventName,
      cell: (r, before) => {
        const id = eventNamed(plan, r.eventName)?.[0];
        if (before?.eventName === r.eventName) return null;
        if (id === undefined) return r.eventName;
        return (
          <button type="button" className="min-h-[24px] hover:text-accent" onClick={() => go(...places.row('event', id))}>
            {r.eventName}
          </button>
        );
      },
    },
    {
      id: 'from',
      head: 'from',
      value: nameOf,
      cell: ({ sourceId }) => {
        const source = plan.source[sourceId];
        return source ? <SourceMark letter={source.mark} kind={source.kind} name={source.name} /> : sourceId;
      },
    },
    {
      id: 'days',
      head: data && data.days.length > 0 ? `${dayText(data.days[0]!, timeZone)} to ${dayText(data.days.at(-1)!, timeZone)}` : '',
      cell: (r) => <Days row={r} days={data?.days ?? []} timeZone={timeZone} />,
    },
    { id: 'messages', head: 'messages', isNumber: true, value: (r) => r.total, cell: (r) => count(r.total) },
    {
      id: 'state',
      head: 'state',
      className: 'whitespace-nowrap',
      value: (r) => WORDS[r.state].text,
      cell: (r) => (
        <span className={WORDS[r.state].tone} title={r.lastAt === undefined ? '' : `last ${instantText(r.lastAt)}`}>
          {WORDS[r.state].text}
          {r.state === 'silent' && r.lastAt !== undefined ? ` for ${ageText(r.lastAt, now).replace(' ago', '')}` : ''}
        </span>
      ),
    },
  ];
  if (error && !data) return <Failed what="The matrix" error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the matrix" />;
  if (data.rows.length === 0)
    return (
      <Empty title="Nothing is planned, and no message has arrived.">
        Plan an event, or send a message with a key from the Hand-off station.
      </Empty>
    );
  return (
    <div className="px-6 py-4">
      <h1 className="text-[1.2rem] font-bold">Coverage by day</h1>
      <p className="mb-3 text-ink-2">
        Four weeks, one bar a day, each row on its own scale. The last day is not complete. {count(shown.length)} of{' '}
        {count(data.rows.length)} rows.
      </p>
      <input
        type="search"
        aria-label="Filter the matrix"
        placeholder="Filter by event, source or state"
        value={filter}
        onChange={(e) => setFilter(e.target.value)}
        className="mb-3 w-80 border border-rule bg-transparent px-2 py-1"
      />
      <DataTable label="Coverage by day" rows={shown} columns={columns} keyOf={(r) => JSON.stringify([r.eventName, r.sourceId])} />
    </div>
  );
};
