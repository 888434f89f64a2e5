/** What is new or vanished in what arrives since a version or a day. */
import { useNow } from '../../ui/use-now';
import { useMemo, useState } from 'react';
import type { DriftChange } from '../../core/arrival/drift';
import { DateField } from '../../ui/DateField';
import { dayBounds, dayOf } from '../../core/questions/calendar';
import { settingsOf } from '../../core/plan/plan';
import { count, dayText, instantText } from '../../ui/format';
import { DataTable, type DataColumn } from '../../ui/DataTable';
import { SourceMark } from '../../ui/SourceMark';
import { Empty, Failed, Loading } from '../../ui/States';
import { usePlan, useWorkplace } from '../workplace/context';
import { useHistory } from '../plan/history';
import { useView } from './use-view';
import { places } from '../workplace/place';
import { DAY_MS } from '../../core/time';
import { refText } from '../../core/plan/property-path';

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
  const { timeZone, weekStartsOn } = settingsOf(plan);
  const { data: history } = useHistory();
  const now = useNow();
  const [day, setDay] = useState(() => dayOf(Date.now() - 14 * DAY_MS, timeZone));
  const [version, setVersion] = useState<number | undefined>();
  const columns = useMemo((): readonly DataColumn<DriftChange>[] => {
    const nameOf = (id: string): string => plan.source[id]?.name ?? id;
    return [
      {
        id: 'change',
        head: 'change',
        value: (c) => c.change,
        cell: (c) => <b className={c.change === 'new' ? 'text-accent' : 'text-caution'}>{c.change}</b>,
      },
      {
        id: 'from',
        head: 'from',
        value: (c) => nameOf(c.sourceId),
        cell: ({ sourceId }) => {
          const source = plan.source[sourceId];
          return source ? <SourceMark letter={source.mark} kind={source.kind} name={source.name} /> : sourceId;
        },
      },
      {
        id: 'event',
        head: 'event',
        wire: true,
        className: 'whitespace-nowrap',
        value: (c) => c.eventName,
        cell: (c) => (
          <button type="button" className="min-h-[24px] hover:text-accent" onClick={() => go(...places.profile(c.eventName))}>
            {c.eventName}
          </button>
        ),
      },
      {
        id: 'what',
        head: 'what',
        wire: true,
        className: 'max-w-[360px] truncate',
        value: about,
        cell: (c) => <span title={about(c)}>{about(c)}</span>,
      },
      { id: 'messages', head: 'messages', isNumber: true, value: (c) => c.messages, cell: (c) => count(c.messages) },
      {
        id: 'at',
        head: 'first or last',
        className: 'whitespace-nowrap',
        value: (c) => c.at,
        cell: (c) => <span title={instantText(c.at)}>{dayText(c.at, timeZone)}</span>,
      },
      { id: 'release', head: 'release', wire: true, className: 'whitespace-nowrap', value: (c) => c.release, cell: (c) => c.release },
    ];
  }, [plan, go, timeZone]);
  const versions = history?.versions ?? [];
  const since = version === undefined ? dayBounds(day, timeZone)?.from : versions.find((v) => v.number === version)?.at;
  const { data, error, refetch } = useView('GET /api/drift', { since: since ?? 0 }, { enabled: since !== undefined });
  return (
    <div className="px-6 py-4">
      <h1 className="text-[1.2rem] font-bold">Drift since a day</h1>
      <p className="max-w-[90ch] text-ink-2">
        Names, properties, types and values that appeared or vanished since a moment, for each event and source. A change counts if the
        other side would have shown it at least ten times.
      </p>
      <div className="my-3 flex flex-wrap items-center gap-3">
        <span className="flex items-center gap-2">
          since the day
          <DateField
            label="since the day"
            value={version === undefined ? day : ''}
            max={dayOf(now, timeZone)}
            timeZone={timeZone}
            weekStartsOn={weekStartsOn}
            onChange={(chosen) => {
              if (chosen === '') return;
              setDay(chosen);
              setVersion(undefined);
            }}
          />
        </span>
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
              ? 'Nothing arrived before then, so there is nothing to compare with.'
              : 'The same names, properties, types and values arrived before and after.'}
        </Empty>
      ) : null}
      {data && data.changes.length > 0 ? (
        <DataTable
          label="Changes"
          className="w-full"
          rows={data.changes}
          columns={columns}
          keyOf={(c) => JSON.stringify([c.what, c.eventName, c.sourceId, c.property, c.value])}
        />
      ) : null}
    </div>
  );
};
