/** Messages, sessions and persons beside each other, and what delays, repeats and wrong clocks do to them. */
import { useState } from 'react';
import { sumsOf, type ArrivalCounts, type Counts, type EventCounts, type SourceCounts } from '../../core/arrival/counts';
import { findEvent } from '../../core/plan/plan';
import { count, lagText, percent, twoDecimals } from '../../ui/format';
import { SourceMark } from '../../ui/SourceMark';
import { Nothing } from '../workplace/Nothing';
import { Failed, Loading } from '../../ui/States';
import { usePlan, useWorkplace } from '../workplace/context';
import { useFindings } from '../workplace/queries';
import { useView } from './use-view';

const SPANS = [
  { days: 7, text: 'the last 7 days' },
  { days: 28, text: 'the last 28 days' },
  { days: 36_600, text: 'all that was recorded' },
] as const;

/** All messages are counted for it, so it is asked for seldom. */
const AGAIN_MS = 60_000;

const NUMBER = 'py-1 pl-3 whitespace-nowrap';
const HEAD = 'pl-3 font-medium';

/** A part of the messages; nothing where there is none. */
const Part = ({ of, n, loud = false }: { of: number; n: number; loud?: boolean }) => (
  <td className={`${NUMBER} ${loud && n > 0 ? 'font-semibold text-stop' : ''}`} title={`${count(n)} of ${count(of)}`}>
    {n === 0 ? <span className="text-ink-2">–</span> : percent(n / of)}
  </td>
);

const perPerson = (messages: number, persons: number): string => (persons > 0 ? twoDecimals(messages / persons) : '');

const Three = ({ c }: { c: Counts }) => (
  <>
    <td className={NUMBER}>{count(c.messages)}</td>
    <td className={NUMBER}>{count(c.sessions)}</td>
    <td className={NUMBER}>{count(c.persons)}</td>
  </>
);

const Timing = ({ c }: { c: Counts }) => (
  <>
    <Part of={c.messages} n={c.late} />
    <Part of={c.messages} n={c.otherDay} />
    <Part of={c.messages} n={c.outOfOrder} />
    <Part of={c.messages} n={c.ahead} loud />
  </>
);

const EventRow = ({ e }: { e: EventCounts }) => {
  const plan = usePlan();
  const { go } = useWorkplace();
  const planned = findEvent(plan, e.eventName)?.[0];
  return (
    <tr className="border-t border-rule text-right figures">
      <th scope="row" className="py-1 text-left font-normal">
        <button
          type="button"
          className={`min-h-[24px] text-left wire underline decoration-dotted hover:text-accent ${planned ? '' : 'text-caution'}`}
          onClick={() => go('arrivals', `profile:${e.eventName}`)}
        >
          {e.eventName}
        </button>
      </th>
      <Three c={e} />
      <td className={NUMBER}>{perPerson(e.messages, e.persons)}</td>
      <td className={NUMBER}>
        {e.firedTwice === 0 ? (
          <span className="text-ink-2">–</span>
        ) : (
          <span title={`${count(e.firedTwice)} came twice as one thing; ${count(e.messages - e.firedTwice)} messages without them`}>
            −{percent(e.firedTwice / e.messages)}, {perPerson(e.messages - e.firedTwice, e.persons)} a person
          </span>
        )}
      </td>
      <Timing c={e} />
    </tr>
  );
};

const SourceRow = ({ s, twice }: { s: SourceCounts; twice: number }) => {
  const plan = usePlan();
  const source = plan.source[s.sourceId];
  const isLate = s.lag !== undefined && s.expectedLagMs > 0 && s.lag.p95 > s.expectedLagMs;
  return (
    <tr className="border-t border-rule text-right figures">
      <th scope="row" className="py-1 text-left font-normal whitespace-nowrap">
        {source ? <SourceMark letter={source.mark} kind={source.kind} name={source.name} /> : null} {source?.name ?? s.sourceId}
      </th>
      <Three c={s} />
      <td className={NUMBER}>{s.lag ? lagText(s.lag.median) : ''}</td>
      <td className={`${NUMBER} ${isLate ? 'font-semibold text-caution' : ''}`}>{s.lag ? lagText(s.lag.p95) : ''}</td>
      <td className={`${NUMBER} text-ink-2`}>{s.expectedLagMs > 0 ? lagText(s.expectedLagMs) : 'not said'}</td>
      {s.complete ? (
        [s.complete.atEnd, s.complete.afterOne, s.complete.afterTwo].map((share, i) => (
          <td key={i} className={NUMBER}>
            {percent(share)}
          </td>
        ))
      ) : (
        <td colSpan={3} className={`${NUMBER} text-ink-2`}>
          too early
        </td>
      )}
      <td className={NUMBER}>{twice === 0 ? <span className="text-ink-2">–</span> : count(twice)}</td>
    </tr>
  );
};

/** Whether the parts add up to the whole; where they do not, or need not, it says so. */
const Adding = ({ data }: { data: ArrivalCounts }) => {
  const { addsUp, messagesByEvent, messagesBySource, sessionsBySource, severalSources } = sumsOf(data);
  return (
    <p className="mt-2 max-w-[110ch] text-sm text-ink-2">
      {addsUp ? (
        <>
          <b className="text-clear">The parts add up.</b> Messages by event, with {count(data.others)} that are no event, and by source come
          to {count(data.whole.messages)}; sessions by source to {count(data.whole.sessions)}.
        </>
      ) : (
        <b className="text-stop">
          The parts do not add up: {count(messagesByEvent)} messages by event and {count(messagesBySource)} by source,{' '}
          {count(data.whole.messages)} in all; {count(sessionsBySource)} sessions by source, {count(data.whole.sessions)} in all.
        </b>
      )}{' '}
      Persons need not: who came from several sources counts once in the whole, and {count(severalSources)} times more over the sources.
      {data.ofNobody > 0 ? ` ${count(data.ofNobody)} messages are nobody’s, and in no session.` : ''}
    </p>
  );
};

export const CountsView = () => {
  const [days, setDays] = useState<number>(28);
  const { data, error, refetch } = useView<ArrivalCounts>(`/api/counts?days=${days}`, true, AGAIN_MS);
  const totals = useFindings().data?.totals ?? [];
  return (
    <div className="min-h-0 flex-1 overflow-y-auto px-6 py-4">
      <div className="flex items-baseline gap-4">
        <h1 className="text-[1.2rem] font-bold">Counts and delays</h1>
        <select
          aria-label="Over which days"
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
        A message is no session, and a session no person. Figures count by the time at which something happened, so what comes late changes
        days that are over.
      </p>
      {error && !data ? <Failed what="The counts" error={error} retry={() => void refetch()} /> : null}
      {!data && !error ? <Loading what="the counts" /> : null}
      {data?.whole.messages === 0 ? <Nothing title="Nothing came in these days.">Choose a longer time, or send something.</Nothing> : null}
      {data && data.whole.messages > 0 ? (
        <>
          <Adding data={data} />
          <table className="mt-4 w-full border-collapse text-[0.93rem]">
            <caption className="pb-1 text-left font-bold">By source</caption>
            <thead>
              <tr className="text-right text-sm text-ink-2">
                <th className="text-left font-medium">source</th>
                <th className={HEAD}>messages</th>
                <th className={HEAD}>sessions</th>
                <th className={HEAD}>persons</th>
                <th className={HEAD}>lag, median</th>
                <th className={HEAD}>95 of 100 within</th>
                <th className={HEAD}>expected</th>
                <th className={HEAD}>there at day’s end</th>
                <th className={HEAD}>a day later</th>
                <th className={HEAD}>two days</th>
                <th
                  className={HEAD}
                  title="The same message ID again, over all time whatever days are chosen: answered “duplicate”, counted once"
                >
                  sent again, all time
                </th>
              </tr>
            </thead>
            <tbody>
              {data.sources.map((s) => (
                <SourceRow key={s.sourceId} s={s} twice={totals.find((t) => t.sourceId === s.sourceId)?.duplicates ?? 0} />
              ))}
            </tbody>
          </table>
          <table className="mt-5 w-full border-collapse text-[0.93rem]">
            <caption className="pb-1 text-left font-bold">By event</caption>
            <thead>
              <tr className="text-right text-sm text-ink-2">
                <th className="text-left font-medium">event</th>
                <th className={HEAD}>messages</th>
                <th className={HEAD}>sessions with it</th>
                <th className={HEAD}>persons</th>
                <th className={HEAD}>per person</th>
                <th className={HEAD} title="Of the same person with the same properties, within the time of the check for double fire">
                  without those fired twice
                </th>
                <th className={HEAD} title="Later than the source is expected to send">
                  late
                </th>
                <th className={HEAD} title="They would fall on another day, counted by when they were received">
                  other day
                </th>
                <th className={HEAD} title="After something that the same person did later on the same source had come">
                  out of order
                </th>
                <th className={HEAD} title="They say they happened after they were received">
                  clock ahead
                </th>
              </tr>
            </thead>
            <tbody>
              {data.events.map((e) => (
                <EventRow key={e.eventName} e={e} />
              ))}
              <tr className="border-t border-ink text-right font-semibold figures">
                <th scope="row" className="py-1 text-left">
                  Everything
                </th>
                <Three c={data.whole} />
                <td className={NUMBER}>{perPerson(data.whole.messages, data.whole.persons)}</td>
                <td className={NUMBER}>{data.whole.firedTwice > 0 ? `−${percent(data.whole.firedTwice / data.whole.messages)}` : ''}</td>
                <Timing c={data.whole} />
              </tr>
            </tbody>
          </table>
        </>
      ) : null}
    </div>
  );
};
