/** What trials verified: event by source, with the releases that passed. */
import { useMemo } from 'react';
import { entries, isLive, settingsOf } from '../../../core/plan/plan';
import { Empty, Failed, Loading } from '../../../ui/States';
import { DataTable, type DataColumn } from '../../../ui/DataTable';
import { dayText, instantText } from '../../../ui/format';
import { SourceMark } from '../../../ui/SourceMark';
import { usePlan } from '../../workplace/context';
import { useView } from '../use-view';

interface Row {
  readonly key: string;
  readonly event: string;
  readonly sourceId: string;
  readonly proofs: readonly { readonly release: string; readonly at: number; readonly author: string; readonly planVersion: number }[];
}

export const TrialCoverage = () => {
  const plan = usePlan();
  const { timeZone } = settingsOf(plan);
  const { data, error, refetch } = useView('GET /api/verified');
  const rows = useMemo(
    (): readonly Row[] =>
      entries(plan, 'event')
        .filter(([, e]) => isLive(e))
        .sort(([, a], [, b]) => a.order - b.order)
        .flatMap(([id, e]) =>
          e.sources.map((s) => ({
            key: `${id} ${s.sourceId}`,
            event: e.name,
            sourceId: s.sourceId,
            proofs: (data ?? []).filter((v) => [e.name, ...e.formerNames].includes(v.eventName) && v.sourceId === s.sourceId),
          })),
        ),
    [plan, data],
  );
  const columns = useMemo(
    (): readonly DataColumn<Row>[] => [
      {
        id: 'event',
        head: 'event',
        wire: true,
        names: true,
        value: (r) => r.event,
        cell: (r, before) => <span className={before?.event === r.event ? 'text-ink-2' : ''}>{r.event}</span>,
      },
      {
        id: 'source',
        head: 'source',
        className: 'whitespace-nowrap',
        value: (r) => plan.source[r.sourceId]?.name,
        cell: (r) => {
          const s = plan.source[r.sourceId];
          return s ? (
            <>
              <SourceMark letter={s.mark} kind={s.kind} name="" /> {s.name}
            </>
          ) : (
            r.sourceId
          );
        },
      },
      {
        id: 'releases',
        head: 'verified in release',
        value: (r) => r.proofs.length,
        isNumber: false,
        cell: (r) =>
          r.proofs.length === 0 ? (
            <span className="text-ink-2">not tried</span>
          ) : (
            r.proofs.map((v) => (
              <span key={v.release} className="mr-3 inline-block" title={`${v.author}, ${instantText(v.at)}, version ${v.planVersion}`}>
                <span className="wire">{v.release || 'unnamed'}</span> <span className="text-sm text-ink-2">{dayText(v.at, timeZone)}</span>
              </span>
            ))
          ),
      },
    ],
    [plan, timeZone],
  );
  if (error && !data) return <Failed what="The coverage" error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the coverage" />;
  if (rows.length === 0)
    return <Empty title="Nothing to try yet.">Events with a source appear here, with the releases in which a trial verified them.</Empty>;
  const tried = rows.filter((r) => r.proofs.length > 0).length;
  return (
    <div className="px-6 py-4">
      <h1 className="text-[1.4rem] leading-tight font-bold">Coverage of trials</h1>
      <p className="mb-2 text-ink-2">
        {tried} of {rows.length} pairs of event and source were verified.
      </p>
      <DataTable label="Coverage of trials" className="w-full" rows={rows} columns={columns} keyOf={(r) => r.key} />
    </div>
  );
};
