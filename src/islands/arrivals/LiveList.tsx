/** The live view: messages as they arrive, each with its verdict. */
import { standInsOf } from '../../client/stand-ins';
import { useVirtualizer } from '@tanstack/react-virtual';
import { ListPlus, Pause, Play } from 'lucide-react';
import { useMemo, useRef, useState, useSyncExternalStore } from 'react';
import { firstProperties } from '../../core/arrival/first-properties';
import type { LiveMessage } from '../../core/arrival/live-message';
import { userKindOf } from '../../core/plan/user-kind';
import { identifiersOfMe } from '../../core/arrival/me';
import { settingsOf } from '../../core/plan/plan';
import { Button } from '../../ui/Button';
import { count, dayText, instantText, plural, timeText } from '../../ui/format';
import { SEVERITY_FILL } from '../../ui/severity-tone';
import { SourceMark } from '../../ui/SourceMark';
import { Empty } from '../../ui/States';
import { usePlan, useWorkplace } from '../workplace/context';
import { messageTitle } from './kind-text';
import { places } from '../workplace/place';
import type { Pick } from './PickBar';
import { later, whenIdle } from '../../ui/later';
import { EVERYTHING, trafficInShort } from '../../core/table/traffic';
import { liveShown } from '../../core/arrival/live-filter';

const ROW = 46;
const MAX_PICKED = 8;

export const Verdict = ({ message }: { message: LiveMessage }) => {
  const worst = message.findings[0];
  return worst ? (
    <span className="flex items-center gap-1.5">
      <span className={`size-2.5 shrink-0 rotate-45 ${SEVERITY_FILL[worst.severity]}`} />
      <span className="truncate">{worst.sentence.replaceAll('`', '')}</span>
    </span>
  ) : (
    <span className="flex items-center gap-1.5" title="Conforms to the published plan">
      <span className="size-2 shrink-0 rounded-full bg-clear">
        <span className="sr-only">conforms</span>
      </span>
      <span className="truncate wire text-[0.86rem] text-ink-2">{firstProperties(message.body)}</span>
    </span>
  );
};

const MeBar = later(() =>
  whenIdle()
    .then(() => import('./MeBar'))
    .then((m) => m.MeBar),
);
const PickBar = later(() => import('./PickBar').then((m) => m.PickBar), null, true);

export const LiveList = ({ chosen, onChoose }: { chosen: number | undefined; onChoose: (m: LiveMessage) => void }) => {
  const plan = usePlan();
  const { live, go, place, lookThrough } = useWorkplace();
  const { timeZone } = settingsOf(plan);
  const { messages, connected } = useSyncExternalStore(live.subscribe, live.snapshot, live.snapshot);
  const [frozen, setFrozen] = useState<readonly LiveMessage[] | undefined>();
  const [filter, setFilter] = useState('');
  const [me, setMe] = useState<string | undefined>(() => sessionStorage.getItem('this-is-me') ?? undefined);
  const [picks, setPicks] = useState<readonly Pick[] | undefined>();
  const userKind = userKindOf(plan);
  const all = frozen ?? messages;
  const mine = useMemo(() => (me === undefined ? new Set<string>() : identifiersOfMe(me, all, userKind)), [me, all, userKind]);
  const { traffic } = place.lens;
  const words = trafficInShort(traffic);
  const { shown, elsewhere } = useMemo(
    () => liveShown(plan, all, { traffic, mine: me === undefined ? undefined : mine, userKind, text: filter, titleOf: messageTitle }),
    [all, me, mine, userKind, filter, traffic, plan],
  );
  const showAll = (): void => lookThrough({ ...place.lens, traffic: EVERYTHING });
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: shown.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 10,
    getItemKey: (i) => shown[i]?.seq ?? i,
  });
  const waiting = frozen ? messages.findIndex((m) => m.seq === frozen[0]?.seq) : 0;
  return (
    <section aria-label="Live view" className="flex min-h-0 min-w-0 flex-1 flex-col">
      <div className="flex items-center gap-2 border-b border-rule py-1.5 pr-10 pl-3">
        <h2 className="font-bold whitespace-nowrap">Live view</h2>
        {connected ? (
          <span className="truncate text-sm text-ink-2">{words}</span>
        ) : (
          <span className="text-sm whitespace-nowrap text-ink-2">interrupted, reconnecting …</span>
        )}
        <span className="ml-auto" />
        <Button look="quiet" className="!px-1 text-sm" aria-pressed={picks !== undefined} onClick={() => setPicks(picks ? undefined : [])}>
          <ListPlus size={14} /> Pick
        </Button>
        <Button
          look="quiet"
          className="!px-1 text-sm"
          aria-pressed={frozen !== undefined}
          onClick={() => setFrozen(frozen ? undefined : messages)}
        >
          {frozen ? <Play size={14} /> : <Pause size={14} />}
          {frozen ? `Go on${waiting > 0 ? ` (${waiting})` : ''}` : 'Pause'}
        </Button>
      </div>
      <div className="flex flex-wrap items-center border-b border-rule">
        <input
          aria-label="Filter by event, source or identifier"
          placeholder="Filter"
          value={filter}
          onChange={(e) => setFilter(e.target.value)}
          className="m-1 ml-3 min-w-32 flex-1 border border-rule bg-transparent px-2 py-0.5 placeholder:text-ink-2"
        />
        <MeBar
          messages={all}
          me={me}
          mine={mine}
          onMe={(v) => {
            if (v === undefined) sessionStorage.removeItem('this-is-me');
            else sessionStorage.setItem('this-is-me', v);
            setMe(v);
          }}
        />
      </div>
      {shown.length === 0 ? (
        <Empty
          title={
            all.length === 0
              ? 'No messages yet.'
              : elsewhere === all.length
                ? `Nothing arrived: ${words}.`
                : me !== undefined && filter === ''
                  ? 'No messages from you in view.'
                  : 'Nothing matches the filter.'
          }
        >
          {all.length === 0
            ? `${standInsOf(plan).length > 0 ? 'Open the stand-in, or send' : 'Send'} to the intake with a write key.`
            : elsewhere > 0
              ? `${plural(elsewhere, 'message')} of other traffic came${elsewhere < all.length ? `, ${count(all.length - elsewhere)} are filtered out` : ''}.`
              : `${count(all.length)} messages are filtered out.`}
          {elsewhere > 0 ? (
            <p className="mt-4">
              <Button onClick={showAll}>Look at all traffic</Button>
            </p>
          ) : null}
          {all.length === 0 ? (
            <p className="mt-4 flex justify-center gap-2">
              <Button look="full" onClick={() => go('hand-off')}>
                Create a write key
              </Button>
              <Button onClick={() => go(...places.arrivals('file'))}>Import messages</Button>
            </p>
          ) : null}
        </Empty>
      ) : (
        <>
          {elsewhere > 0 ? (
            <p className="flex items-baseline gap-2 border-b border-rule px-3 py-0.5 text-sm text-ink-2">
              {plural(elsewhere, 'message')} of other traffic not shown.
              <button type="button" className="min-h-[24px] text-accent underline decoration-dotted" onClick={showAll}>
                Look at all
              </button>
            </p>
          ) : null}
          <div ref={scroller} className="min-h-0 flex-1 overflow-y-auto" tabIndex={-1}>
            <ul className="relative" style={{ height: virtual.getTotalSize() }} aria-label="Messages, newest first">
              {virtual.getVirtualItems().map((v) => {
                const m = shown[v.index]!;
                const source = plan.source[m.sourceId];
                return (
                  <li key={v.key} className="absolute inset-x-0 flex border-b border-rule" style={{ top: v.start, height: ROW }}>
                    {picks && m.kind === 'event' ? (
                      <input
                        type="checkbox"
                        aria-label={`Pick ${m.name}`}
                        checked={picks.some((p) => p.message.seq === m.seq)}
                        disabled={picks.length >= MAX_PICKED && !picks.some((p) => p.message.seq === m.seq)}
                        onChange={(e) =>
                          setPicks(e.target.checked ? [...picks, { message: m }] : picks.filter((p) => p.message.seq !== m.seq))
                        }
                        className="mx-2 size-6 self-center accent-accent"
                      />
                    ) : null}
                    <button
                      type="button"
                      onClick={() => onChoose(m)}
                      aria-current={m.seq === chosen}
                      className={`block h-full min-w-0 flex-1 px-3 py-1 text-left hover:bg-ground ${m.seq === chosen ? 'bg-wash' : ''}`}
                    >
                      <span className="flex items-center gap-2">
                        {source ? <SourceMark letter={source.mark} kind={source.kind} name={source.name} /> : null}
                        <span className="truncate wire font-semibold">{messageTitle(m)}</span>
                        <span className="ml-auto text-sm text-ink-2 figures" title={instantText(m.receivedAt)}>
                          {Date.now() - m.receivedAt > 43_200_000 ? `${dayText(m.receivedAt, timeZone)}, ` : ''}
                          {timeText(m.receivedAt, timeZone)}
                        </span>
                      </span>
                      <span className="block pl-7 text-sm">
                        <Verdict message={m} />
                      </span>
                    </button>
                  </li>
                );
              })}
            </ul>
          </div>
        </>
      )}
      {picks ? <PickBar picks={picks} onPicks={setPicks} onDone={() => setPicks(undefined)} /> : null}
    </section>
  );
};
