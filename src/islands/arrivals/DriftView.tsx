/** What is new or vanished in what arrives since a version or a day. */
import { useState } from 'react';
import type { Drift, DriftChange } from '../../core/arrival/drift';
import { dayBounds, dayOf } from '../../core/questions/calendar';
import { settingsOf } from '../../core/plan/plan';
import { count, dayText, instantText } from '../../ui/format';
import { SourceMark } from '../../ui/SourceMark';
import { Empty, Failed, Loading } from '../../ui/States';
import { usePlan, useWorkplace } from '../workplace/context';
import { useHistory } from '../plan/history';
import { useView } from './use-view';
import { refText } from '../../core/plan/property-path';

const DAY_MS = 86_400_000;

const about = (c: DriftChange): string =>
  c.what === 'event'
    ? 'the event'
    : c.what === 'property'
      ? `the property ${refText(c.property)}`
      : c.what === 'type'
        ? `${refText(c.property)} as ${c.value}`
        : `${refText(c.property)}: ${c.value}`;

export const DriftView = () => {
  const plan = usePlan();
  const { go } = useWorkplace();
  const { timeZone } = settingsOf(plan);
  const { data: history } = useHistory();
  const [day, setDay] = useState(() => dayOf(Date.now() - 14 * DAY_MS, timeZone));
  const [version, setVersion] = useState<number | undefined>();
  const versions = history?.versions ?? [];
  const since = version === undefined ? dayBounds(day, timeZone)?.from : versions.find((v) => v.number === version)?.at;
  const { data, error, refetch } = useView<Drift>(`/api/drift?since=${since ?? ''}`, since !== undefined);
  return (
    <div className="px-6 py-4">
      <h1 className="text-[1.2rem] font-bold">What changed in what arrives</h1>
      <p className="max-w-[90ch] text-ink-2">
        Names, properties, types and values that are new or vanished since a moment, for each event and source. Something counts as changed
        where the other side would have shown it at least ten times.
      </p>
      <div className="my-3 flex flex-wrap items-center gap-3">
        <label className="flex items-center gap-2">
          since the day
          <input
            type="date"
            value={version === undefined ? day : ''}
            max={dayOf(Date.now(), timeZone)}
            onChange={(e) => {
              if (e.target.value !== '') setDay(e.target.value);
              setVersion(undefined);
            }}
            className="border border-rule bg-paper px-2 py-1"
          />
        </label>
        <label className="flex items-center gap-2">
          or since
          <select
            value={version ?? ''}
            onChange={(e) => setVersion(e.target.value === '' ? undefined : Number(e.target.value))}
            className="border border-rule bg-paper px-2 py-1"
          >
            <option value="">no version</option>
            {versions.map((v) => (
              <option key={v.number} value={v.number}>
                version {v.number}, {dayText(v.at, timeZone)}
              </option>
            ))}
          </select>
        </label>
        {data ? (
          <span className="ml-auto text-ink-2">
            {count(data.before)} messages before, {count(data.after)} since
          </span>
        ) : null}
      </div>
      {error && !data ? <Failed what="The comparison" error={error} retry={() => void refetch()} /> : null}
      {!data && !error ? <Loading what="the comparison" /> : null}
      {data && data.changes.length === 0 ? (
        <Empty title="Nothing changed.">
          {data.after === 0
            ? 'Nothing has arrived since then.'
            : data.before === 0
              ? 'Nothing had arrived before then, so there is nothing to compare with.'
              : 'The same names, properties, types and values came before and since.'}
        </Empty>
      ) : null}
      {data && data.changes.length > 0 ? (
        <table className="w-full border-collapse">
          <thead>
            <tr className="text-left text-sm text-ink-2">
              <th className="pr-3 font-medium">change</th>
              <th className="pr-3 font-medium">from</th>
              <th className="pr-4 font-medium">event</th>
              <th className="pr-4 font-medium">what</th>
              <th className="pr-4 text-right font-medium">messages</th>
              <th className="pr-4 font-medium">first or last</th>
              <th className="font-medium">release</th>
            </tr>
          </thead>
          <tbody>
            {data.changes.map((c) => {
              const source = plan.source[c.sourceId];
              return (
                <tr key={JSON.stringify([c.what, c.eventName, c.sourceId, c.property, c.value])} className="border-t border-rule">
                  <td className={`py-1 pr-3 font-semibold ${c.change === 'new' ? 'text-accent' : 'text-caution'}`}>{c.change}</td>
                  <td className="pr-3">
                    {source ? <SourceMark letter={source.mark} kind={source.kind} name={source.name} /> : c.sourceId}
                  </td>
                  <td className="pr-4 wire whitespace-nowrap">
                    <button
                      type="button"
                      className="min-h-[26px] hover:text-accent"
                      onClick={() => go('arrivals', `profile:${c.eventName}`)}
                    >
                      {c.eventName}
                    </button>
                  </td>
                  <td className="max-w-[360px] truncate pr-4 wire" title={about(c)}>
                    {about(c)}
                  </td>
                  <td className="pr-4 text-right figures">{count(c.messages)}</td>
                  <td className="pr-4 whitespace-nowrap" title={instantText(c.at)}>
                    {dayText(c.at, timeZone)}
                  </td>
                  <td className="wire whitespace-nowrap">{c.release}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      ) : null}
    </div>
  );
};
