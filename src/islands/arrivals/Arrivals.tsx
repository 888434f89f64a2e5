/** The Arrivals station: findings by cause, the live view, a stand-in beside it, and the views of what came. */
import { AppWindow } from 'lucide-react';
import { useState } from 'react';
import type { LiveMessage } from '../../core/arrival/live-message';
import { settingsOf } from '../../core/plan/plan';
import type { Retest } from '../../core/arrival/retests';
import type { IntakeTotals } from '../../core/arrival/intake-totals';
import { Button } from '../../ui/Button';
import { count, timeText } from '../../ui/format';
import { Frame, ListHead, MarginPart } from '../../ui/Frame';
import { Failed, Loading } from '../../ui/States';
import { useDraft, usePlan, useWorkplace } from '../workplace/context';
import { useFindings } from '../workplace/queries';
import { RecheckProgress } from '../workplace/RecheckProgress';
import { Backfill } from './Backfill';
import { CountsView } from './CountsView';
import { DriftView } from './DriftView';
import { FindingBench } from './FindingBench';
import { FindingRows } from './FindingRows';
import { LiveList } from './LiveList';
import { LogbookView } from './LogbookView';
import { Matrix } from './Matrix';
import { MessageDetail } from './MessageDetail';
import { Pairs } from './Pairs';
import { ProfileView } from './ProfileView';
import { RefusedView } from './RefusedView';
import { Retests } from './Retests';
import { StandIns } from './StandIns';
import { useNothing } from '../workplace/Nothing';
import { useView } from './use-view';
import { UserProperties } from './UserProperties';
import { VIEWS, viewOf } from './views';
import { VolumeView } from './VolumeView';

const Totals = ({ totals }: { totals: readonly IntakeTotals[] }) => {
  const plan = usePlan();
  return (
    <table className="m-4 w-[calc(100%-2rem)] text-sm">
      <caption className="pb-1 text-left font-semibold text-ink-2">Answers of the intake, all time</caption>
      <thead>
        <tr className="text-right text-ink-2">
          <th className="text-left font-medium">source</th>
          <th className="font-medium">accepted</th>
          <th className="font-medium">twice</th>
          <th className="font-medium">refused</th>
        </tr>
      </thead>
      <tbody>
        {totals.map((t) => (
          <tr key={t.sourceId} className="border-t border-rule text-right figures">
            <th className="py-1 text-left font-normal">{plan.source[t.sourceId]?.name ?? t.sourceId}</th>
            <td>{count(t.accepted)}</td>
            <td>{count(t.duplicates)}</td>
            <td>{count(t.refused)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
};

/** Views that need the whole width. */
const WIDE: readonly string[] = ['matrix', 'counts', 'profile', 'user', 'drift', 'file', 'volume', 'refused', 'retests'];

const Arrivals = () => {
  const plan = usePlan();
  const { place, go } = useWorkplace();
  const { server } = useDraft();
  const { data, error, refetch } = useFindings();
  const nothing = useNothing();
  const [standIn, setStandIn] = useState(false);
  const [message, setMessage] = useState<LiveMessage | undefined>();
  const due = useView<Retest[]>('/api/retests').data?.filter((r) => r.state === 'due').length ?? 0;
  const group = data?.groups.find((g) => g.key === place.item);
  const hasWeb = plan.source['web'] !== undefined;
  const view = viewOf(place.item);
  const [kind, ...value] = view?.rest.split(':') ?? [];
  const identifier = kind ? { kind, value: value.join(':') } : undefined;
  const list = (
    <>
      <nav aria-label="Views of what arrived" className="grid grid-cols-2 gap-x-1 border-b border-rule px-2 py-1.5">
        <button
          type="button"
          aria-current={!view}
          onClick={() => go('arrivals')}
          className={`min-h-[28px] px-2 text-left ${view ? 'hover:bg-wash' : 'bg-wash font-semibold'}`}
        >
          Live and findings
        </button>
        {VIEWS.map((v) => (
          <button
            key={v.id}
            type="button"
            aria-current={v.id === view?.id}
            onClick={() => go('arrivals', v.id)}
            className={`min-h-[28px] px-2 text-left ${v.id === view?.id ? 'bg-wash font-semibold' : 'hover:bg-wash'}`}
          >
            {v.title}
            {v.id === 'retests' && due > 0 ? (
              <b className="ml-1.5 text-caution" title={`${due} due`}>
                {due}
              </b>
            ) : null}
          </button>
        ))}
      </nav>
      <ListHead title="Findings" note={data ? `${data.groups.filter((g) => g.state === 'open').length} open` : ''}>
        {hasWeb ? (
          <Button
            look={standIn ? 'full' : 'plain'}
            aria-pressed={standIn}
            className="!px-2 text-sm"
            onClick={() => {
              if (view) go('arrivals');
              setStandIn(!standIn || view !== undefined);
            }}
          >
            <AppWindow size={14} /> Stand-in
          </Button>
        ) : null}
      </ListHead>
      <RecheckProgress />
      {error && !data ? <Failed what="The findings" error={error} retry={() => void refetch()} /> : null}
      {!data && !error ? <Loading what="findings" /> : null}
      {data ? <FindingRows groups={data.groups} chosen={group?.key} onChoose={(key) => go('arrivals', key)} /> : null}
      {server && !server.published ? (
        <p className="border-b border-rule px-4 py-2 text-caution">No version is published yet, so nothing that arrives is judged.</p>
      ) : null}
      {data?.groups.length === 0 && (data.messages === 0 || server?.published) ? (
        <p className="p-4 text-ink-2">
          {data.messages === 0 ? `${nothing ?? 'Nothing was sent yet.'} No findings.` : `${count(data.messages)} messages, all conforming.`}
        </p>
      ) : null}
      {data && data.manyAt !== null && data.messages > 0 ? (
        <p className="px-4 pt-3 text-sm text-ink-2" title="Checks that need many messages run in the background, as messages come.">
          Patterns over many messages as of {timeText(data.manyAt, settingsOf(plan).timeZone)}
        </p>
      ) : null}
      {data && data.totals.length > 0 ? <Totals totals={data.totals} /> : null}
    </>
  );
  const margin = message ? (
    <MessageDetail message={message} />
  ) : (
    <MarginPart title="A message">Choose one to see its verdict, its properties and its identifiers.</MarginPart>
  );
  return (
    <Frame list={list} listLabel="Findings" margin={view && WIDE.includes(view.id) ? undefined : margin}>
      <div className="flex min-h-0 flex-1">
        {standIn && !view ? <StandIns /> : null}
        <div className="flex min-h-0 min-w-0 flex-1 flex-col">
          {view?.id === 'matrix' ? <Matrix /> : null}
          {view?.id === 'logbook' ? <LogbookView identifier={identifier} chosen={message?.seq} onChoose={setMessage} /> : null}
          {view?.id === 'volume' ? <VolumeView place={view.rest} /> : null}
          {view?.id === 'counts' ? <CountsView /> : null}
          {view?.id === 'profile' ? <ProfileView eventName={view.rest} /> : null}
          {view?.id === 'user' ? <UserProperties name={view.rest} /> : null}
          {view?.id === 'pairs' ? <Pairs place={view.rest} chosen={message?.seq} onChoose={setMessage} /> : null}
          {view?.id === 'drift' ? <DriftView /> : null}
          {view?.id === 'retests' ? <Retests /> : null}
          {view?.id === 'file' ? <Backfill /> : null}
          {view?.id === 'refused' ? <RefusedView /> : null}
          {group && !standIn ? <FindingBench group={group} onChoose={setMessage} onClose={() => go('arrivals')} /> : null}
          {view ? null : <LiveList chosen={message?.seq} onChoose={setMessage} />}
        </div>
      </div>
    </Frame>
  );
};

export default Arrivals;
