/** How many messages came on each day, beside what the weekday lets expect, with the releases and versions of those days. */
import { withDefinedEvents } from '../../core/definitions/planned';
import { entries, settingsOf } from '../../core/plan/plan';
import { BandChart } from '../../ui/BandChart';
import { count, dayText, plural } from '../../ui/format';
import { Nothing } from '../workplace/Nothing';
import { Failed, Loading } from '../../ui/States';
import { usePlan, useWorkplace } from '../workplace/context';
import { itemOf, places } from '../workplace/place';
import { useView } from './use-view';

const SELECT = 'border border-rule bg-paper px-2 py-1';

/** Of an event and a source, both empty for all. */
export const VolumeView = ({ event, source }: { event: string; source: string }) => {
  const plan = usePlan();
  const { go } = useWorkplace();
  const { timeZone } = settingsOf(plan);
  const to = (e: string, s: string): void => go(...places.volume(e, s));
  const { data, error, refetch } = useView('GET /api/volume', { event, source });
  const names = entries(withDefinedEvents(plan), 'event')
    .map(([, e]) => e.name)
    .sort();
  const off = data?.days.filter((d) => d.off) ?? [];
  return (
    <div className="flex flex-col px-6 py-4">
      <h1 className="text-[1.2rem] font-bold">Messages of each day</h1>
      <p className="max-w-[90ch] text-ink-2">
        The grey band is the expected range: weekday, level and growth of the previous days, fitted as counts. A diamond marks a day outside
        the range. Every message counts; nothing is sampled.
      </p>
      <div className="mt-3 flex flex-wrap items-center gap-2">
        <select aria-label="Event" className={SELECT} value={event} onChange={(e) => to(e.target.value, source)}>
          <option value="">all events</option>
          {[...new Set([...names, ...(event === '' ? [] : [event])])].map((n) => (
            <option key={n}>{n}</option>
          ))}
        </select>
        <select aria-label="Source" className={SELECT} value={source} onChange={(e) => to(event, e.target.value)}>
          <option value="">all sources</option>
          {entries(plan, 'source').map(([id, s]) => (
            <option key={id} value={id}>
              {s.name}
            </option>
          ))}
        </select>
        {data ? (
          <span className="ml-auto text-ink-2">
            {plural(data.messages, 'message')} in {plural(data.days.length, 'day')}
            {data.before > 0 ? `, ${count(data.before)} before these` : ''}
            {data.after > 0 ? `, ${count(data.after)} dated after now` : ''}
            {off.length > 0 ? `, ${off.length === 1 ? 'one day' : `${off.length} days`} off` : ''}
          </span>
        ) : null}
      </div>
      {error && !data ? <Failed what="The volume" error={error} retry={() => void refetch()} /> : null}
      {!data && !error ? <Loading what="the volume" /> : null}
      {data && data.messages === 0 ? (
        <Nothing title="Nothing arrived in this period.">
          {event === '' && source === ''
            ? 'Send a message, or change the traffic in the header.'
            : 'Choose another event or source, or open Coverage by day.'}
        </Nothing>
      ) : null}
      {data && data.messages > 0 ? (
        <>
          <div className="mt-3">
            <BandChart
              key={itemOf(event, source)}
              points={data.days.slice(0, -1).map((d) => ({
                at: d.at,
                value: d.messages,
                band: d.band && [d.band.low, d.band.high],
                off: d.off !== undefined,
              }))}
              marks={data.marks.map((m) => ({ at: m.at, text: m.text, strong: m.what === 'version' }))}
              unit="messages"
              dayText={(at) => dayText(at, timeZone)}
            />
          </div>
          <div className="mt-2 max-h-64 overflow-y-auto" tabIndex={0} role="region" aria-label="The days as a table">
            <table className="w-full max-w-[760px] border-collapse text-[0.93rem]">
              <caption className="sr-only">Messages of each day, newest first</caption>
              <thead>
                <tr className="sticky top-0 bg-paper text-right text-ink-2">
                  <th className="text-left font-medium">day</th>
                  <th className="font-medium">messages</th>
                  <th className="font-medium">persons</th>
                  <th className="font-medium">per person</th>
                  <th className="font-medium">usual</th>
                  <th className="pl-6 text-left font-medium">what happened</th>
                </tr>
              </thead>
              <tbody>
                {data.days.toReversed().map((d, i) => {
                  const next = data.days[data.days.length - i]?.at ?? Infinity;
                  const marks = data.marks.filter((m) => m.at >= d.at && m.at < next).map((m) => m.text);
                  return (
                    <tr key={d.at} className="border-t border-rule text-right figures">
                      <th className="py-0.5 text-left font-normal">{dayText(d.at, timeZone)}</th>
                      <td className={d.off ? 'font-bold text-stop' : ''}>{count(d.messages)}</td>
                      <td>{count(d.persons)}</td>
                      <td>{d.persons > 0 ? (d.messages / d.persons).toFixed(1) : ''}</td>
                      <td className="text-ink-2">
                        {d.band ? `${count(Math.round(d.band.low))} to ${count(Math.round(d.band.high))}` : 'too early'}
                      </td>
                      <td className="pl-6 text-left">
                        {[d.off ? `${d.off} than usual` : '', i === 0 ? 'not over yet' : '', ...marks].filter(Boolean).join(', ')}
                      </td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          </div>
        </>
      ) : null}
    </div>
  );
};
