/** The Arrivals station: findings by cause, the live view, a stand-in beside it, and the views of what came. */
import { lookedAt, type Looked } from '../../core/findings/looked';
import { standInsOf } from '../../client/stand-ins';
import { AppWindow } from 'lucide-react';
import { useState, type ReactNode } from 'react';
import type { LiveMessage } from '../../core/arrival/live-message';
import { settingsOf } from '../../core/plan/plan';
import type { IntakeTotals } from '../../core/arrival/intake-totals';
import { Button } from '../../ui/Button';
import { count, plural, timeText } from '../../ui/format';
import { Frame, ListHead } from '../../ui/Frame';
import { GroupedNav } from '../../ui/GroupedNav';
import { Failed, Loading } from '../../ui/States';
import { useDraft, usePlan, useWorkplace } from '../workplace/context';
import { places, identifierIn } from '../workplace/place';
import { later } from '../../ui/later';
import { useFindings } from '../workplace/queries';
import { RecheckProgress } from '../workplace/RecheckProgress';
import { FindingRows } from './FindingRows';
import { LiveLine } from './LiveLine';
import { useNothing } from '../workplace/Nothing';
import { useView } from './use-view';
import { arrivalsPlace, VIEW_GROUPS } from './views';

const Backfill = later(() => import('./Backfill').then((m) => m.Backfill), <Loading what="the view" />);
const CountsView = later(() => import('./CountsView').then((m) => m.CountsView), <Loading what="the view" />);
const DriftView = later(() => import('./DriftView').then((m) => m.DriftView), <Loading what="the view" />);
const LiveList = later(() => import('./LiveList').then((m) => m.LiveList), <Loading what="the view" />);
const LogbookView = later(() => import('./LogbookView').then((m) => m.LogbookView), <Loading what="the view" />);
const Matrix = later(() => import('./Matrix').then((m) => m.Matrix), <Loading what="the view" />);
const Pairs = later(() => import('./Pairs').then((m) => m.Pairs), <Loading what="the view" />);
const ProfileView = later(() => import('./ProfileView').then((m) => m.ProfileView), <Loading what="the view" />);
const RejectedView = later(() => import('./RejectedView').then((m) => m.RejectedView), <Loading what="the view" />);
const FollowUps = later(() => import('./FollowUps').then((m) => m.FollowUps), <Loading what="the view" />);
const StandIns = later(() => import('./StandIns').then((m) => m.StandIns), <Loading what="the view" />);
const UserProperties = later(() => import('./UserProperties').then((m) => m.UserProperties), <Loading what="the view" />);
const VolumeView = later(() => import('./VolumeView').then((m) => m.VolumeView), <Loading what="the view" />);
const FindingBench = later(() => import('./FindingBench').then((m) => m.FindingBench), <Loading what="the view" />);
const TrialsView = later(() => import('./trials/TrialsView').then((m) => m.TrialsView), <Loading what="the view" />);
const MessageDetail = later(() => import('./MessageDetail').then((m) => m.MessageDetail), <Loading what="the view" />);

const Totals = ({ totals }: { totals: readonly IntakeTotals[] }) => {
  const plan = usePlan();
  return (
    <table className="m-4 w-[calc(100%-2rem)] text-sm">
      <caption className="pb-1 text-left font-semibold text-ink-2">Intake answers, all time</caption>
      <thead>
        <tr className="text-right text-ink-2">
          <th className="text-left font-medium">source</th>
          <th className="font-medium">accepted</th>
          <th className="font-medium">twice</th>
          <th className="font-medium">rejected</th>
        </tr>
      </thead>
      <tbody>
        {totals.map((t) => (
          <tr key={t.sourceId} className="border-t border-rule text-right figures">
            <th className="py-1 text-left font-normal">{plan.source[t.sourceId]?.name ?? t.sourceId}</th>
            <td>{count(t.accepted)}</td>
            <td>{count(t.duplicates)}</td>
            <td>{count(t.rejected)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
};

/** What an empty list says. */
const nothingFound = (looked: Looked, messages: number, nothing: string | undefined): string => {
  switch (looked) {
    case 'nothing arrived':
      return `${nothing ?? 'No messages yet.'} No findings.`;
    case 'not checked':
      return '';
    case 'being checked':
      return 'Nothing is found on what is checked so far.';
    case 'one by one':
      return `Each of ${plural(messages, 'message')} conforms.`;
    case 'all':
      return `${plural(messages, 'message')}, all conforming.`;
  }
};

/** The findings, as a list beside the one that is open. `givesWay`: where there is no room for four columns, the list is the one that goes. */
const Findings = ({ chosen, givesWay, children }: { chosen: string | undefined; givesWay: boolean; children: ReactNode }) => {
  const plan = usePlan();
  const { go } = useWorkplace();
  const { server } = useDraft();
  const { data, error, refetch } = useFindings();
  const nothing = useNothing();
  return (
    <div className="flex min-h-0 flex-1 flex-col lg:flex-row">
      <section
        aria-label="Findings"
        className={`${givesWay ? 'hidden 2xl:block' : ''} shrink-0 border-b border-rule lg:w-[300px] lg:overflow-y-auto lg:border-r lg:border-b-0`}
      >
        <ListHead title="Findings" note={data ? `${data.groups.filter((g) => g.state === 'open').length} open` : ''} />
        <RecheckProgress />
        {error && !data ? <Failed what="The findings" error={error} retry={() => void refetch()} /> : null}
        {!data && !error ? <Loading what="findings" /> : null}
        {data ? <FindingRows groups={data.groups} chosen={chosen} onChoose={(key) => go(...places.finding(key))} /> : null}
        {server && !server.published ? (
          <p className="border-b border-rule px-4 py-2 text-caution">No version is published yet, so arriving messages are not checked.</p>
        ) : null}
        {data?.groups.length === 0 && server ? (
          <p className="p-4 text-ink-2 empty:hidden">
            {nothingFound(
              lookedAt(data, { isPublished: server.published !== null, isRechecked: server.recheck === null }),
              data.messages,
              nothing,
            )}
          </p>
        ) : null}
        {data && server?.published && data.messages > 0 ? (
          <p className="px-4 pt-3 text-sm text-ink-2" title="Checks over many messages run in the background as messages arrive.">
            {data.manyAt === null
              ? 'Patterns over many messages are still being looked for.'
              : `Patterns over many messages as of ${timeText(data.manyAt, settingsOf(plan).timeZone)}`}
          </p>
        ) : null}
        {data && data.totals.length > 0 ? <Totals totals={data.totals} /> : null}
      </section>
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">{children}</div>
    </div>
  );
};

const Arrivals = () => {
  const plan = usePlan();
  const { place, go } = useWorkplace();
  const { data } = useFindings();
  const [standIn, setStandIn] = useState(false);
  const [message, setMessage] = useState<LiveMessage | undefined>();
  const due = useView('GET /api/follow-ups').data?.filter((r) => r.state === 'due').length ?? 0;
  const { view, finding, rest } = arrivalsPlace(place.item);
  const group = data?.groups.find((g) => g.key === finding);
  const hasStandIns = standInsOf(plan).length > 0;
  const openFindings = data?.groups.filter((g) => g.state === 'open').length ?? 0;
  const notes: { readonly [id: string]: ReactNode } = {
    findings: openFindings > 0 ? openFindings : undefined,
    'follow-ups':
      due > 0 ? (
        <b className="text-caution" title={`${due} due`}>
          {due} due
        </b>
      ) : undefined,
  };
  const groups = VIEW_GROUPS.map((g) => ({ ...g, entries: g.entries.map((e) => ({ ...e, note: notes[e.id] })) }));
  const list = (
    <>
      <ListHead title="Arrivals" />
      <GroupedNav label="Views of arrivals" groups={groups} chosen={view} onChoose={(id) => go(...places.arrivals(id))} />
      {hasStandIns ? (
        <div className="border-t border-rule p-3">
          <Button
            look={standIn ? 'full' : 'plain'}
            aria-pressed={standIn}
            className="w-full text-sm"
            onClick={() => {
              const hasRoom = view === 'live' || view === 'findings' || view === 'trials';
              if (!hasRoom) go(...places.findings());
              setStandIn(!standIn || !hasRoom);
            }}
          >
            <AppWindow size={14} /> Stand-in
          </Button>
        </div>
      ) : null}
    </>
  );
  const live = <LiveList chosen={message?.seq} onChoose={setMessage} />;
  return (
    <Frame
      list={list}
      listLabel="Arrivals"
      narrowList
      margin={message ? <MessageDetail message={message} /> : undefined}
      onCloseMargin={() => setMessage(undefined)}
    >
      {view === 'findings' ? (
        <Findings chosen={group?.key} givesWay={standIn && message !== undefined}>
          {standIn ? (
            <div className="flex min-h-0 flex-1">
              <StandIns />
              <div className="flex min-h-0 min-w-0 flex-1 flex-col">{live}</div>
            </div>
          ) : group ? (
            <>
              <FindingBench group={group} onChoose={setMessage} onClose={() => go(...places.findings())} />
              <LiveLine />
            </>
          ) : (
            live
          )}
        </Findings>
      ) : view === 'live' ? (
        <div className="flex min-h-0 flex-1">
          {standIn ? <StandIns /> : null}
          <div className="flex min-h-0 min-w-0 flex-1 flex-col">{live}</div>
        </div>
      ) : view === 'trials' ? (
        <div className="flex min-h-0 flex-1">
          {standIn ? <StandIns /> : null}
          <div className="flex min-h-0 min-w-0 flex-1 flex-col overflow-y-auto">
            <TrialsView trialId={rest[0] ?? ''} runId={rest[1] ?? ''} />
          </div>
        </div>
      ) : view === 'matrix' ? (
        <Matrix />
      ) : view === 'logbook' ? (
        <LogbookView identifier={identifierIn(rest)} chosen={message?.seq} onChoose={setMessage} />
      ) : view === 'volume' ? (
        <VolumeView event={rest[0] ?? ''} source={rest[1] ?? ''} />
      ) : view === 'counts' ? (
        <CountsView />
      ) : view === 'profile' ? (
        <ProfileView eventName={rest[0] ?? ''} />
      ) : view === 'user' ? (
        <UserProperties name={rest[0] ?? ''} />
      ) : view === 'pairs' ? (
        <Pairs place={rest[0] ?? ''} chosen={message?.seq} onChoose={setMessage} />
      ) : view === 'drift' ? (
        <DriftView />
      ) : view === 'follow-ups' ? (
        <FollowUps />
      ) : view === 'file' ? (
        <Backfill />
      ) : (
        <RejectedView />
      )}
    </Frame>
  );
};

export default Arrivals;
