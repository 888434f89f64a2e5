/** Messages, sessions and persons beside each other, and what delays, repeats and wrong clocks do to them. */
import { useMemo, useState } from 'react';
import { sumsOf, type ArrivalCounts, type Counts, type EventCounts, type SourceCounts } from '../../core/arrival/counts';
import { eventNamed } from '../../core/plan/plan-index';
import { count, lagText, percent, twoDecimals } from '../../ui/format';
import { DataTable, type DataColumn } from '../../ui/DataTable';
import { SourceMark } from '../../ui/SourceMark';
import { Nothing } from '../workplace/Nothing';
import { Failed, Loading } from '../../ui/States';
import { usePlan, useWorkplace } from '../workplace/context';
import { useFindings } from '../workplace/queries';
import { places } from '../workplace/place';
import { useView } from './use-view';

const SPANS = [
  { days: 7, text: 'the last 7 days' },
  { days: 28, text: 'the last 28 days' },
  { days: 36_600, text: 'all that was recorded' },
] as const;

/** All messages are counted for it, so it is asked for seldom. */
const AGAIN_MS = 60_000;

/** A part of the messages; nothing where there is none. */
const Part = ({ of, n, loud = false }: { of: number; n: number; loud?: boolean }) => (
  <span className={loud && n > 0 ? 'font-semibold text-stop' : ''} title={`${count(n)} of ${count(of)}`}>
    {n === 0 ? <span className="text-ink-2">–</span> : percent(n / of)}
  </span>
);

const perPerson = (messages: number, persons: number): string => (persons > 0 ? twoDecimals(messages / persons) : '');

const THREE: readonly DataColumn<Counts>[] = (['messages', 'sessions', 'persons'] as const).map((id) => ({
  id,
  head: id,
  isNumber: true,
  value: (c) => c[id],
  cell: (c) => count(c[id]),
}));

const PARTS = [
  { id: 'late', head: 'late', title: 'Later than the source is expected to send' },
  { id: 'otherDay', head: 'other day', title: 'Counted by time of receipt, they would fall on another day' },
  { id: 'outOfOrder', head: 'out of order', title: 'Arrived after a later message of the same person from the same source' },
  { id: 'ahead', head: 'clock ahead', title: 'Dated after they were received' },
] as const;

const TIMING: readonly DataColumn<Counts>[] = PARTS.map((p) => ({
  ...p,
  isNumber: true,
  value: (c) => (c.messages === 0 ? undefined : c[p.id] / c.messages),
  cell: (c) => <Part of={c.messages} n={c[p.id]} loud={p.id === 'ahead'} />,
}));

const EventName = ({ name }: { name: string }) => {
  const plan = usePlan();
  const { go } = useWorkplace();
  return (
    <button
      type="button"
      className={`min-h-[24px] text-left wire underline decoration-dotted hover:text-accent ${eventNamed(plan, name) ? '' : 'text-caution'}`}
      onClick={() => go(...places.profile(name))}
    >
      {name}
    </button>
  );
};

const EVENT_COLUMNS: readonly DataColumn<EventCounts>[] = [
  { id: 'event', head: 'event', names: true, value: (e) => e.eventName, cell: (e) => <EventName name={e.eventName} /> },
  ...THREE.map((c) => (c.id === 'sessions' ? { ...c, head: 'sessions with it' } : c)),
  {
    id: 'perPerson',
    head: 'per person',
    isNumber: true,
    value: (e) => (e.persons === 0 ? undefined : e.messages / e.persons),
    cell: (e) => perPerson(e.messages, e.persons),
  },
  {
    id: 'firedTwice',
    head: 'without those fired twice',
    title: 'Of the same person with the same properties, within the time of the check for double fire',
    isNumber: true,
    value: (e) => e.firedTwice / e.messages,
    cell: (e) =>
      e.firedTwice === 0 ? (
        <span className="text-ink-2">–</span>
      ) : (
        <span title={`${count(e.firedTwice)} came twice as one thing; ${count(e.messages - e.firedTwice)} messages without them`}>
          {percent(e.firedTwice / e.messages)} fewer, {perPerson(e.messages - e.firedTwice, e.persons)} a person
        </span>
      ),
  },
  ...TIMING,
];

const SourceName = ({ id }: { id: string }) => {
  const source = usePlan().source[id];
  return (
    <span className="whitespace-nowrap">
      {source ? <SourceMark letter={source.mark} kind={source.kind} name={source.name} /> : null} {source?.name ?? id}
    </span>
  );
};

const isLate = (s: SourceCounts): boolean => s.lag !== undefined && s.expectedLagMs > 0 && s.lag.p95 > s.expectedLagMs;

const COMPLETE = [
  { id: 'atEnd', head: 'by the end of the day' },
  { id: 'afterOne', head: 'a day later' },
  { id: 'afterTwo', head: 'two days' },
] as const;

/** `twice`: messages of a source that were sent again, over all time. */
const sourceColumns = (twice: (sourceId: string) => number): readonly DataColumn<SourceCounts>[] => [
  { id: 'source', head: 'source', names: true, value: (s) => s.sourceId, cell: (s) => <SourceName id={s.sourceId} /> },
  ...THREE,
  {
    id: 'lag',
    head: 'lag, median',
    isNumber: true,
    value: (s) => s.lag?.median,
    cell: (s) => (s.lag ? lagText(s.lag.median) : ''),
  },
  {
    id: 'p95',
    head: '95 of 100 within',
    isNumber: true,
    value: (s) => s.lag?.p95,
    cell: (s) => <span className={isLate(s) ? 'font-semibold text-caution' : ''}>{s.lag ? lagText(s.lag.p95) : ''}</span>,
  },
  {
    id: 'expected',
    head: 'expected',
    isNumber: true,
    className: 'text-ink-2',
    value: (s) => (s.expectedLagMs > 0 ? s.expectedLagMs : undefined),
    cell: (s) => (s.expectedLagMs > 0 ? lagText(s.expectedLagMs) : 'not given'),
  },
  ...COMPLETE.map(({ id, head }): DataColumn<SourceCounts> => ({
    id,
    head,
    isNumber: true,
    value: (s) => s.complete?.[id],
    cell: (s) => (s.complete ? percent(s.complete[id]) : <span className="text-ink-2">too early</span>),
  })),
  {
    id: 'twice',
    head: 'sent again, all time',
    title: 'The same message ID sent again, over all time: answered “duplicate”, counted once',
    isNumber: true,
    value: (s) => twice(s.sourceId),
    cell: (s) => (twice(s.sourceId) === 0 ? <span className="text-ink-2">–</span> : count(twice(s.sourceId))),
  },
];

/** Whether the parts add up to the whole; where they do not, or need not, it says so. */
const Adding = ({ data }: { data: ArrivalCounts }) => {
  const { addsUp, messagesByEvent, messagesBySource, sessionsBySource, severalSources } = sumsOf(data);
  return (
    <p className="mt-2 max-w-[110ch] text-sm text-ink-2">
      {addsUp ? (
        <>
          <b className="text-clear">The parts add up.</b> Messages by event, with {count(data.others)} that are no event, and by source, add
          up to {count(data.whole.messages)}; sessions by source add up to {count(data.whole.sessions)}.
        </>
      ) : (
        <b className="text-stop">
          The parts do not add up: {count(messagesByEvent)} messages by event and {count(messagesBySource)} by source,{' '}
          {count(data.whole.messages)} in all; {count(sessionsBySource)} sessions by source, {count(data.whole.sessions)} in all.
        </b>
      )}{' '}
      Persons need not add up: a person seen on several sources counts once in the total and once on each of them; the sources together have{' '}
      {count(severalSources)} more than the total.
      {data.ofNobody > 0 ? ` ${count(data.ofNobody)} messages belong to nobody and to no session.` : ''}
    </p>
  );
};

export const CountsView = () => {
  const [days, setDays] = useState<number>(28);
  const { data, error, refetch } = useView('GET /api/counts', { days }, { againMs: AGAIN_MS });
  const totals = useFindings().data?.totals;
  const bySource = useMemo(() => sourceColumns((id) => totals?.find((t) => t.sourceId === id)?.duplicates ?? 0), [totals]);
  return (
    <div className="min-h-0 flex-1 overflow-y-auto px-6 py-4">
      <div className="flex items-baseline gap-4">
        <h1 className="text-[1.2rem] font-bold">Counts and delays</h1>
        <select
          aria-label="Period"
          value={days}
          onChange={(e) => setDays(Number(e.target.value))}
          className="border border-rule bg-paper px-1 py-0.5"
        >
          {SPANS.map((s) => (
            <option key={s.days} value={s.days}>
              {s.text}
            </option>
          ))}
        </select>
      </div>
      <p className="max-w-[110ch] text-ink-2">
        Messages, sessions and persons are different counts. Figures use the time at which something happened, so late messages change past
        days.
      </p>
      {error && !data ? <Failed what="The counts" error={error} retry={() => void refetch()} /> : null}
      {!data && !error ? <Loading what="the counts" /> : null}
      {data?.whole.messages === 0 ? (
        <Nothing title="Nothing arrived in this period.">Choose a longer period, or send a message.</Nothing>
      ) : null}
      {data && data.whole.messages > 0 ? (
        <>
          <Adding data={data} />
          <DataTable
            caption="By source"
            className="mt-4 w-full text-[0.93rem]"
            rows={data.sources}
            columns={bySource}
            keyOf={(s) => s.sourceId}
          />
          <DataTable
            caption="By event"
            className="mt-5 w-full text-[0.93rem]"
            rows={data.events}
            columns={EVENT_COLUMNS}
            keyOf={(e) => e.eventName}
            foot={
              <tr className="border-t border-ink text-right font-semibold figures [&>td]:pr-4 [&>td:last-child]:pr-0">
                <th scope="row" className="py-1 text-left">
                  Everything
                </th>
                {THREE.map((c) => (
                  <td key={c.id}>{c.cell(data.whole, undefined)}</td>
                ))}
                <td>{perPerson(data.whole.messages, data.whole.persons)}</td>
                <td>{data.whole.firedTwice > 0 ? `−${percent(data.whole.firedTwice / data.whole.messages)}` : ''}</td>
                {TIMING.map((c) => (
                  <td key={c.id}>{c.cell(data.whole, undefined)}</td>
                ))}
              </tr>
            }
          />
        </>
      ) : null}
    </div>
  );
};
