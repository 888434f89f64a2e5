/** The Arrivals station: findings by cause, the live view, and a stand-in beside it. */
import { useQuery } from '@tanstack/react-query';
import { AppWindow, X } from 'lucide-react';
import { useState } from 'react';
import type { LiveMessage } from '../../core/arrival/live-message';
import type { TriagedFinding } from '../../core/arrival/triage';
import { settingsOf } from '../../core/plan/plan';
import { questionsServedBy } from '../../core/questions/coverage';
import { Button } from '../../ui/Button';
import { ageText, count, dayText, instantText, percent } from '../../ui/format';
import { Frame, ListHead, ListRow, MarginPart } from '../../ui/Frame';
import { Rich } from '../../ui/Rich';
import { SourceMark } from '../../ui/SourceMark';
import { Failed, Loading } from '../../ui/States';
import { get } from '../workplace/api';
import { usePlan, useWorkplace } from '../workplace/context';
import { useFindings } from '../workplace/queries';
import { LiveList } from './LiveList';
import { LogbookView } from './LogbookView';
import { Matrix } from './Matrix';
import { MessageDetail } from './MessageDetail';
import { Triage } from './Triage';

const EDGE = { stop: 'bg-stop', caution: 'bg-caution-fill', note: 'bg-ink-2' } as const;

const FindingRow = ({ group, chosen, onChoose }: { group: TriagedFinding; chosen: boolean; onChoose: () => void }) => {
  const plan = usePlan();
  const source = plan.source[group.sourceId];
  return (
    <ListRow chosen={chosen} onChoose={onChoose}>
      <span className="flex items-center gap-2 text-sm">
        <span className={`size-2.5 shrink-0 rotate-45 ${EDGE[group.severity]}`} />
        <b>{group.title}</b>
        <span className="ml-auto text-ink-2 figures">{count(group.count)}</span>
        {source ? <SourceMark letter={source.mark} kind={source.kind} name={source.name} /> : null}
      </span>
      <span className="mt-0.5 line-clamp-2 text-[0.93rem] leading-snug">
        <Rich text={group.sentence} />
      </span>
    </ListRow>
  );
};

const Samples = ({ group, onChoose }: { group: TriagedFinding; onChoose: (m: LiveMessage) => void }) => {
  const { timeZone } = settingsOf(usePlan());
  const { data } = useQuery({
    queryKey: ['samples', group.samples],
    queryFn: ({ signal }) => get<LiveMessage[]>(`/api/messages?seq=${group.samples.join(',')}`, signal),
  });
  return (
    <div>
      {data?.map((m) => (
        <button
          key={m.seq}
          type="button"
          onClick={() => onChoose(m)}
          className="flex w-full items-baseline gap-3 border-b border-rule py-1 text-left hover:bg-ground"
        >
          <span className="w-16 shrink-0 text-sm whitespace-nowrap text-ink-2 figures" title={instantText(m.occurredAt)}>
            {dayText(m.occurredAt, timeZone)}
          </span>
          <span className="truncate wire">{JSON.stringify(m.body['properties'] ?? m.body['ids'] ?? {})}</span>
        </button>
      ))}
    </div>
  );
};

const FindingBench = ({ group, onChoose, onClose }: { group: TriagedFinding; onChoose: (m: LiveMessage) => void; onClose: () => void }) => {
  const plan = usePlan();
  const { go } = useWorkplace();
  const { timeZone } = settingsOf(plan);
  const source = plan.source[group.sourceId];
  const questions = [...new Map(group.touches.flatMap((name) => questionsServedBy(plan, name)))];
  return (
    <article aria-label="Finding" className="max-h-[62%] shrink-0 overflow-y-auto border-b border-rule px-6 py-4">
      <p className="flex items-center gap-2 pr-6 text-sm">
        <span className={`size-2.5 rotate-45 ${EDGE[group.severity]}`} />
        <b className={group.severity === 'stop' ? 'text-stop' : 'text-caution'}>{group.severity}</b> {group.title}
        <button type="button" className="ml-auto flex items-center gap-1 font-semibold text-accent" onClick={onClose}>
          <X size={14} /> Close
        </button>
      </p>
      <h1 className="mt-1 text-[1.2rem] leading-snug font-bold">
        <Rich text={group.sentence} />
      </h1>
      <p className="mt-1">
        <b>{count(group.count)}</b> of {count(group.of)} messages ({percent(group.of > 0 ? group.count / group.of : undefined)}) from{' '}
        {source?.name ?? group.sourceId}
        {group.releases.filter(Boolean).length > 0 ? (
          <>
            , release <span className="wire">{group.releases.filter(Boolean).join(', ')}</span>
          </>
        ) : null}
        ; since <span title={instantText(group.firstAt)}>{dayText(group.firstAt, timeZone)}</span>, last{' '}
        <span title={instantText(group.lastAt)}>{ageText(group.lastAt, Date.now())}</span>.
      </p>
      <dl className="mt-2 grid grid-cols-[70px_1fr] gap-y-1">
        <dt className="font-bold">Cause</dt>
        <dd>{group.cause}</dd>
        <dt className="font-bold">Mend</dt>
        <dd>
          <Rich text={group.mend} />
        </dd>
        <dt className="font-bold">Who</dt>
        <dd>{source?.owner || 'the owner of the source'}</dd>
        {questions.length > 0 ? (
          <>
            <dt className="font-bold">Touches</dt>
            <dd>
              {questions.map(([id, q], i) => (
                <span key={id}>
                  {i > 0 ? '; ' : ''}
                  <button
                    type="button"
                    className="min-h-[24px] text-accent underline decoration-dotted"
                    onClick={() => go('clearance', id)}
                  >
                    {q.text}
                  </button>
                </span>
              ))}
            </dd>
          </>
        ) : null}
      </dl>
      <Triage key={group.key} group={group} owner={source?.owner ?? ''} />
      {group.samples.length > 0 ? (
        <>
          <h2 className="mt-3 mb-1 text-sm font-bold">Newest examples</h2>
          <Samples group={group} onChoose={onChoose} />
        </>
      ) : null}
    </article>
  );
};

const PARTS = [
  { state: 'open', title: 'Open' },
  { state: 'acknowledged', title: 'Acknowledged' },
  { state: 'mended', title: 'Mended' },
] as const;

const Arrivals = () => {
  const plan = usePlan();
  const { place, go } = useWorkplace();
  const { data, error, refetch } = useFindings();
  const [standIn, setStandIn] = useState(false);
  const [message, setMessage] = useState<LiveMessage | undefined>();
  const group = data?.groups.find((g) => g.key === place.item);
  const hasWeb = plan.source['web'] !== undefined;
  const [view, kind, ...value] = place.item?.startsWith('[') ? [] : (place.item ?? '').split(':');
  const showsMatrix = view === 'matrix';
  const showsLogbook = view === 'logbook';
  const identifier = showsLogbook && kind ? { kind, value: value.join(':') } : undefined;
  const list = (
    <>
      <ListRow chosen={showsMatrix} onChoose={() => go('arrivals', 'matrix')} className="!py-1.5">
        Where and when
      </ListRow>
      <ListRow chosen={showsLogbook} onChoose={() => go('arrivals', 'logbook')} className="!py-1.5">
        Logbook of a person
      </ListRow>
      <ListHead title="Findings" note={data ? `${data.groups.filter((g) => g.state === 'open').length} open` : ''}>
        {hasWeb ? (
          <Button look={standIn ? 'full' : 'plain'} aria-pressed={standIn} className="!px-2 text-sm" onClick={() => setStandIn(!standIn)}>
            <AppWindow size={14} /> Stand-in
          </Button>
        ) : null}
      </ListHead>
      {error && !data ? <Failed what="The findings" error={error} retry={() => void refetch()} /> : null}
      {!data && !error ? <Loading what="findings" /> : null}
      {PARTS.map(({ state, title }) => {
        const part = data?.groups.filter((g) => g.state === state) ?? [];
        return part.length === 0 ? null : (
          <section key={state} aria-label={title}>
            {state === 'open' ? null : (
              <h3 className="border-b border-rule px-4 pt-4 pb-1 text-sm font-semibold text-ink-2">
                {title} <span className="font-normal">{count(part.length)}</span>
              </h3>
            )}
            {part.map((g) => (
              <FindingRow key={g.key} group={g} chosen={g.key === group?.key} onChoose={() => go('arrivals', g.key)} />
            ))}
          </section>
        );
      })}
      {data?.groups.length === 0 ? (
        <p className="p-4 text-ink-2">
          {data.messages === 0
            ? 'Nothing was sent yet, so there is nothing to judge.'
            : `${count(data.messages)} messages, all conforming.`}
        </p>
      ) : null}
      {data && data.totals.length > 0 ? (
        <table className="m-4 w-[calc(100%-2rem)] text-sm">
          <caption className="pb-1 text-left font-semibold text-ink-2">What the intake answered</caption>
          <thead>
            <tr className="text-right text-ink-2">
              <th className="text-left font-medium">source</th>
              <th className="font-medium">accepted</th>
              <th className="font-medium">twice</th>
              <th className="font-medium">refused</th>
            </tr>
          </thead>
          <tbody>
            {data.totals.map((t) => (
              <tr key={t.sourceId} className="border-t border-rule text-right figures">
                <th className="py-1 text-left font-normal">{plan.source[t.sourceId]?.name ?? t.sourceId}</th>
                <td>{count(t.accepted)}</td>
                <td>{count(t.duplicates)}</td>
                <td>{count(t.refused)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : null}
    </>
  );
  return (
    <Frame
      list={list}
      listLabel="Findings"
      margin={
        showsMatrix ? undefined : message ? (
          <MessageDetail message={message} />
        ) : (
          <MarginPart title="A message">Choose one to see its verdict, its properties and its identifiers.</MarginPart>
        )
      }
    >
      <div className="flex min-h-0 flex-1">
        {standIn && !showsMatrix && !showsLogbook ? (
          <iframe title="Stand-in: web catalogue" src="/stand-ins/web" className="w-[372px] shrink-0 border-r border-rule" />
        ) : null}
        <div className="flex min-h-0 min-w-0 flex-1 flex-col">
          {showsMatrix ? <Matrix /> : null}
          {showsLogbook ? <LogbookView identifier={identifier} chosen={message?.seq} onChoose={setMessage} /> : null}
          {group && !standIn ? <FindingBench group={group} onChoose={setMessage} onClose={() => go('arrivals')} /> : null}
          {showsMatrix || showsLogbook ? null : <LiveList chosen={message?.seq} onChoose={setMessage} />}
        </div>
      </div>
    </Frame>
  );
};

export default Arrivals;
