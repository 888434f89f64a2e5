/** Client vs. server: what the clients say happened, and what the server confirms, pair by pair. */
import { useQuery } from '@tanstack/react-query';
import type { LiveMessage } from '../../core/arrival/live-message';
import type { Share } from '../../core/arrival/reconciliation';
import { settingsOf } from '../../core/plan/plan';
import { count, dayText, instantText, percent, timeText } from '../../ui/format';
import { SourceMark } from '../../ui/SourceMark';
import { Empty, Failed, Loading } from '../../ui/States';
import { ask } from '../../client/api';
import { usePlan, useWorkplace } from '../workplace/context';
import { useView } from './use-view';
import { places } from '../workplace/place';
import { isObject, refText, valueAt, type PropertyRef } from '../../core/plan/property-path';

const ShareText = ({ share }: { share: Share }) =>
  share.interval ? (
    <>
      <b>{percent(share.n / share.of)}</b>{' '}
      <span className="text-sm text-ink-2">
        {percent(share.interval.low)} to {percent(share.interval.high)}
      </span>
    </>
  ) : (
    <span className="text-ink-2">nothing to judge</span>
  );

/** A share and its interval on a common scale. */
const ShareBar = ({ share, scale }: { share: Share; scale: number }) =>
  share.interval ? (
    <svg width={150} height={14} role="img" aria-label={percent(share.n / share.of)} className="block">
      <line x1={0} x2={150} y1={13} y2={13} stroke="var(--rule)" />
      <rect x={0} y={3} width={(share.n / share.of / scale) * 150} height={8} fill={share.n > 0 ? 'var(--caution-fill)' : 'var(--rule)'} />
      <line
        x1={(share.interval.low / scale) * 150}
        x2={Math.min(150, (share.interval.high / scale) * 150)}
        y1={7}
        y2={7}
        stroke="var(--ink)"
        strokeWidth={1.5}
      />
    </svg>
  ) : null;

const seconds = (ms: number): string =>
  ms % 3_600_000 === 0 ? `${ms / 3_600_000} h` : ms % 60_000 === 0 ? `${ms / 60_000} min` : `${ms / 1000} s`;

const SHOWN = 60;

const Listed = ({
  title,
  seqs,
  of,
  keyProperty,
  chosen,
  onChoose,
}: {
  title: string;
  seqs: readonly number[];
  of: number;
  keyProperty: PropertyRef;
  chosen: number | undefined;
  onChoose: (m: LiveMessage) => void;
}) => {
  const { timeZone } = settingsOf(usePlan());
  const wanted = seqs.slice(0, SHOWN);
  const { data } = useQuery({
    queryKey: ['samples', wanted],
    queryFn: ({ signal }) => ask('GET /api/messages', { query: { seq: wanted.join(',') } }, signal),
    enabled: wanted.length > 0,
  });
  return (
    <section className="min-w-0 flex-1">
      <h3 className="border-b border-ink pb-1 font-bold">
        {title}{' '}
        <span className="font-normal text-ink-2">
          {count(of)}
          {of > wanted.length ? `, the newest ${wanted.length}` : ''}
        </span>
      </h3>
      {of === 0 ? <p className="py-2 text-ink-2">None.</p> : null}
      <ul aria-label={title} className="max-h-[280px] overflow-y-auto">
        {data?.map((m) => (
          <li key={m.seq} className="border-b border-rule">
            <button
              type="button"
              aria-current={m.seq === chosen}
              onClick={() => onChoose(m)}
              className={`flex min-h-[28px] w-full items-baseline gap-3 px-1 text-left hover:bg-ground ${m.seq === chosen ? 'bg-wash' : ''}`}
            >
              <span className="w-36 shrink-0 text-sm whitespace-nowrap text-ink-2 figures" title={instantText(m.occurredAt)}>
                {dayText(m.occurredAt, timeZone)}, {timeText(m.occurredAt, timeZone)}
              </span>
              <span className="min-w-0 flex-1 truncate wire">{keyText(m.body, keyProperty)}</span>
              <span className="shrink-0 text-sm text-ink-2">{m.release}</span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
};

/** The value of the key in a message, as it was sent. */
const keyText = (body: Readonly<Record<string, unknown>>, key: PropertyRef): string => {
  const v = valueAt(isObject(body['properties']) ? body['properties'] : {}, key);
  return v === undefined ? `no ${refText(key)}` : typeof v === 'string' ? v : JSON.stringify(v);
};

export const Pairs = ({ place, chosen, onChoose }: { place: string; chosen: number | undefined; onChoose: (m: LiveMessage) => void }) => {
  const plan = usePlan();
  const { go } = useWorkplace();
  const { data, error, refetch } = useView('GET /api/reconciliation');
  if (error && !data) return <Failed what="The reconciliation" error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the reconciliation" />;
  const [first] = data;
  if (!first)
    return (
      <Empty title="No event has a counterpart.">
        Name, at the Plan station, the server event that confirms a client event, and the property that both carry.
      </Empty>
    );
  const pair = data.find((p) => p.clientName === place) ?? first;
  const scale = Math.max(0.01, ...pair.bySource.map((s) => s.unconfirmed.interval?.high ?? 0));
  return (
    <div className="min-h-0 flex-1 overflow-y-auto px-6 py-4">
      <h1 className="text-[1.2rem] font-bold">Client vs. server</h1>
      <p className="max-w-[80ch] text-ink-2">
        A client can lose messages, so it should not send more than the server confirms. Anything beyond that fired too early or was
        rejected.
      </p>
      <div className="mt-2 flex flex-wrap gap-1 border-b border-rule" role="tablist" aria-label="Pairs">
        {data.map((p) => (
          <button
            key={p.clientName}
            type="button"
            role="tab"
            aria-selected={p === pair}
            onClick={() => go(...places.pair(p.clientName))}
            className={`border-b-2 px-2 py-1 wire ${p === pair ? 'border-accent font-semibold' : 'border-transparent hover:border-rule'}`}
          >
            {p.clientName}
          </button>
        ))}
      </div>
      <table className="mt-3 border-collapse">
        <caption className="sr-only">Both sides</caption>
        <tbody>
          <tr className="border-b border-rule">
            <th className="py-1 pr-6 text-left font-medium">
              <span className="wire">{pair.clientName}</span> from clients
            </th>
            <td className="pr-6 text-right font-semibold figures">{count(pair.clientMessages)}</td>
            <td className="text-ink-2">
              matched by <span className="wire">{refText(pair.keyProperty)}</span> within {seconds(pair.windowMs)}
            </td>
          </tr>
          <tr className="border-b border-rule">
            <th className="py-1 pr-6 text-left font-medium">
              <span className="wire">{pair.serverName}</span> from the server
            </th>
            <td className="pr-6 text-right font-semibold figures">{count(pair.serverMessages)}</td>
            <td className={pair.clientMessages > pair.serverMessages ? 'font-semibold text-stop' : 'text-clear'}>
              {pair.clientMessages > pair.serverMessages ? 'clients sent more than confirmed' : 'clients sent no more than confirmed'}
            </td>
          </tr>
          <tr className="border-b border-rule">
            <th className="py-1 pr-6 text-left font-medium">sent, not confirmed</th>
            <td className="pr-6 text-right figures">{count(pair.extra.n)}</td>
            <td>
              <ShareText share={pair.extra} />
            </td>
          </tr>
          <tr className="border-b border-rule">
            <th className="py-1 pr-6 text-left font-medium">confirmed, not sent</th>
            <td className="pr-6 text-right figures">{count(pair.lost.n)}</td>
            <td>
              <ShareText share={pair.lost} />
            </td>
          </tr>
        </tbody>
      </table>
      {pair.waiting > 0 ? (
        <p className="mt-1 text-sm text-ink-2">{count(pair.waiting)} are still within the window: too early to judge.</p>
      ) : null}
      <h2 className="mt-4 font-bold">Sent, not confirmed, by source and release</h2>
      <table className="mt-1 border-collapse">
        <thead>
          <tr className="text-left text-sm text-ink-2">
            <th className="pr-3 font-medium">source</th>
            <th className="pr-4 font-medium">release</th>
            <th className="pr-4 text-right font-medium">sent</th>
            <th className="pr-4 text-right font-medium">not confirmed</th>
            <th className="font-medium" colSpan={2}>
              share, with 95 % interval
            </th>
          </tr>
        </thead>
        <tbody>
          {pair.bySource.map((s) => {
            const source = plan.source[s.sourceId];
            return (
              <tr key={`${s.sourceId} ${s.release}`} className="border-t border-rule">
                <td className="py-1 pr-3">
                  {source ? <SourceMark letter={source.mark} kind={source.kind} name={source.name} /> : s.sourceId}
                </td>
                <td className="pr-4 wire">{s.release || 'none'}</td>
                <td className="pr-4 text-right figures">{count(s.unconfirmed.of)}</td>
                <td className="pr-4 text-right figures">{count(s.unconfirmed.n)}</td>
                <td className="pr-3">
                  <ShareBar share={s.unconfirmed} scale={scale} />
                </td>
                <td className="whitespace-nowrap">
                  <ShareText share={s.unconfirmed} />
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <div className="mt-4 flex gap-6">
        <Listed
          title="Sent, not confirmed"
          seqs={pair.extraSeqs}
          of={pair.extra.n}
          keyProperty={pair.keyProperty}
          chosen={chosen}
          onChoose={onChoose}
        />
        <Listed
          title="Confirmed, not sent"
          seqs={pair.lostSeqs}
          of={pair.lost.n}
          keyProperty={pair.keyProperty}
          chosen={chosen}
          onChoose={onChoose}
        />
      </div>
    </div>
  );
};
