/** The live view: messages as they arrive, each with its verdict. */
import { useVirtualizer } from '@tanstack/react-virtual';
import { Pause, Play } from 'lucide-react';
import { useRef, useState, useSyncExternalStore } from 'react';
import type { LiveMessage } from '../../core/arrival/live-message';
import { settingsOf } from '../../core/plan/plan';
import { Button } from '../../ui/Button';
import { count, dayText, instantText, timeText } from '../../ui/format';
import { SourceMark } from '../../ui/SourceMark';
import { Empty } from '../../ui/States';
import { usePlan, useWorkplace } from '../workplace/context';

const ROW = 46;
const TONE = { stop: 'bg-stop', caution: 'bg-caution-fill', note: 'bg-ink-2' } as const;

export const Verdict = ({ message }: { message: LiveMessage }) => {
  const worst = message.findings[0];
  return worst ? (
    <span className="flex items-center gap-1.5">
      <span className={`size-2.5 shrink-0 rotate-45 ${TONE[worst.severity]}`} />
      <span className="truncate">{worst.sentence.replaceAll('`', '')}</span>
    </span>
  ) : (
    <span className="text-clear">conforms</span>
  );
};

export const LiveList = ({ chosen, onChoose }: { chosen: number | undefined; onChoose: (m: LiveMessage) => void }) => {
  const plan = usePlan();
  const { live } = useWorkplace();
  const { timeZone } = settingsOf(plan);
  const { messages, connected } = useSyncExternalStore(live.subscribe, live.snapshot, live.snapshot);
  const [frozen, setFrozen] = useState<readonly LiveMessage[] | undefined>();
  const [filter, setFilter] = useState('');
  const needle = filter.toLowerCase();
  const all = frozen ?? messages;
  const shown =
    needle === ''
      ? all
      : all.filter((m) => `${m.name} ${m.sourceId} ${m.release} ${JSON.stringify(m.body['ids'] ?? {})}`.toLowerCase().includes(needle));
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
        <span className="hidden text-sm whitespace-nowrap text-ink-2 xl:inline">{connected ? '' : 'interrupted, reconnecting …'}</span>
        <input
          aria-label="Filter by event, source or identifier"
          placeholder="Filter"
          value={filter}
          onChange={(e) => setFilter(e.target.value)}
          className="w-full min-w-16 border border-rule bg-transparent px-2 py-0.5 placeholder:text-ink-2"
        />
        <Button look="quiet" aria-pressed={frozen !== undefined} onClick={() => setFrozen(frozen ? undefined : messages)}>
          {frozen ? <Play size={14} /> : <Pause size={14} />}
          {frozen ? `Go on${waiting > 0 ? ` (${waiting})` : ''}` : 'Pause'}
        </Button>
      </div>
      {shown.length === 0 ? (
        <Empty title={all.length === 0 ? 'Nothing was sent yet.' : 'Nothing passes the filter.'}>
          {all.length === 0
            ? 'Open the stand-in beside this, or send to the intake with a write key.'
            : `${count(all.length)} messages are filtered out.`}
        </Empty>
      ) : (
        <div ref={scroller} className="min-h-0 flex-1 overflow-y-auto" tabIndex={-1}>
          <ul className="relative" style={{ height: virtual.getTotalSize() }} aria-label="Messages, newest first">
            {virtual.getVirtualItems().map((v) => {
              const m = shown[v.index]!;
              const source = plan.source[m.sourceId];
              return (
                <li key={v.key} className="absolute inset-x-0 border-b border-rule" style={{ top: v.start, height: ROW }}>
                  <button
                    type="button"
                    onClick={() => onChoose(m)}
                    aria-current={m.seq === chosen}
                    className={`block h-full w-full px-3 py-1 text-left hover:bg-ground ${m.seq === chosen ? 'bg-wash' : ''}`}
                  >
                    <span className="flex items-center gap-2">
                      {source ? <SourceMark letter={source.mark} kind={source.kind} name={source.name} /> : null}
                      <span className="truncate wire font-semibold">{m.kind === 'identify' ? 'identify call' : m.name}</span>
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
      )}
    </section>
  );
};
