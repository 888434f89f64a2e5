/** What one person did, in order: filtered by source, with a day to jump to and an event to mark. */
import { useVirtualizer } from '@tanstack/react-virtual';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { useMemo, useRef, useState } from 'react';
import type { LiveMessage } from '../../core/arrival/live-message';
import type { Logbook, LogbookEntry } from '../../core/arrival/logbook';
import { checkTitle } from '../../core/arrival/words';
import { DateField } from '../../ui/DateField';
import { settingsOf } from '../../core/plan/plan';
import { dayBounds } from '../../core/questions/calendar';
import { Button } from '../../ui/Button';
import { count, dayText, instantText, plural, timeText } from '../../ui/format';
import { SourceMark } from '../../ui/SourceMark';
import { ask } from '../../client/api';
import { usePlan } from '../workplace/context';

const ROW = 32;

export const LogbookTimeline = ({
  book,
  chosen,
  onChoose,
}: {
  book: Logbook;
  chosen: number | undefined;
  onChoose: (m: LiveMessage) => void;
}) => {
  const plan = usePlan();
  const { timeZone, weekStartsOn } = settingsOf(plan);
  const [day, setDay] = useState('');
  const [source, setSource] = useState('');
  const [find, setFind] = useState('');
  const scroll = useRef<HTMLDivElement>(null);
  const [identifier, setIdentifier] = useState(-1);
  const shown = useMemo(
    () => book.entries.filter((e) => (source === '' || e.sourceId === source) && (identifier < 0 || e.ids.includes(identifier))),
    [book, source, identifier],
  );
  const needle = find.trim().toLowerCase();
  const marked = (e: LogbookEntry) => needle !== '' && `${e.name} ${e.page}`.toLowerCase().includes(needle);
  const virtual = useVirtualizer({ count: shown.length, getScrollElement: () => scroll.current, estimateSize: () => ROW, overscan: 12 });
  const [at, setAt] = useState(0);
  const jump = (by: 1 | -1) => {
    for (let i = at + by; i >= 0 && i < shown.length; i += by)
      if (marked(shown[i]!)) {
        setAt(i);
        virtual.scrollToIndex(i, { align: 'center' });
        return;
      }
  };
  const toDay = (wanted: string) => {
    setDay(wanted);
    const i = shown.findIndex((e) => e.at >= (dayBounds(wanted, timeZone)?.from ?? Infinity));
    if (i >= 0) virtual.scrollToIndex(i, { align: 'start' });
  };
  const choose = async (e: LogbookEntry) => {
    const [m] = await ask('GET /api/messages', { query: { seq: String(e.seq) } });
    if (m) onChoose(m);
  };
  const hits = needle === '' ? 0 : shown.filter(marked).length;
  return (
    <>
      <div className="flex flex-wrap items-center gap-2 border-b border-rule px-6 py-2 text-sm">
        <select
          aria-label="Source"
          className="w-28 border border-rule bg-transparent px-1 py-1"
          value={source}
          onChange={(e) => setSource(e.target.value)}
        >
          <option value="">all sources</option>
          {book.bySource.map((s) => (
            <option key={s.sourceId} value={s.sourceId}>
              {plan.source[s.sourceId]?.name ?? s.sourceId} ({count(s.messages)})
            </option>
          ))}
        </select>
        {book.identifiers.length > 1 ? (
          <select
            aria-label="Identifier"
            className="w-32 border border-rule bg-transparent px-1 py-1"
            value={identifier}
            onChange={(e) => setIdentifier(Number(e.target.value))}
          >
            <option value={-1}>all identifiers</option>
            {book.identifiers.map((i, at) => (
              <option key={`${i.kind} ${i.value}`} value={at}>
                {i.kind} {i.value} ({count(i.messages)})
              </option>
            ))}
          </select>
        ) : null}
        <Button look="quiet" className="!px-1" onClick={() => virtual.scrollToIndex(0, { align: 'start' })}>
          First
        </Button>
        <DateField label="Go to day" placeholder="Go to day" value={day} timeZone={timeZone} weekStartsOn={weekStartsOn} onChange={toDay} />
        <input
          type="search"
          aria-label="Highlight an event or page"
          placeholder="Highlight an event or page"
          value={find}
          onChange={(e) => {
            setFind(e.target.value);
            setAt(-1);
          }}
          onKeyDown={(e) => {
            if (e.key === 'Enter') jump(e.shiftKey ? -1 : 1);
          }}
          className="w-44 border border-rule bg-transparent px-2 py-1"
        />
        {needle === '' ? null : (
          <>
            <span className="text-ink-2">{plural(hits, 'mark')}</span>
            <Button look="quiet" className="!px-1" aria-label="Next highlight" onClick={() => jump(1)}>
              <ArrowDown size={14} />
            </Button>
            <Button look="quiet" className="!px-1" aria-label="Previous highlight" onClick={() => jump(-1)}>
              <ArrowUp size={14} />
            </Button>
          </>
        )}
        {book.entries.length < book.messages ? (
          <span className="ml-auto text-ink-2">
            the newest {count(book.entries.length)} of {count(book.messages)}
          </span>
        ) : null}
      </div>
      <div ref={scroll} role="list" aria-label="Messages of this person" tabIndex={0} className="min-h-[200px] flex-1 overflow-y-auto">
        <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
          {virtual.getVirtualItems().map((v) => {
            const e = shown[v.index]!;
            const before = shown[v.index - 1];
            const day = dayText(e.at, timeZone);
            const s = plan.source[e.sourceId];
            return (
              <div key={e.seq} role="listitem" className="absolute inset-x-0" style={{ top: v.start, height: ROW }}>
                <button
                  type="button"
                  aria-current={chosen === e.seq}
                  onClick={() => void choose(e)}
                  className={`flex h-full w-full items-center gap-3 border-b border-rule px-6 text-left hover:bg-ground ${chosen === e.seq ? 'bg-wash' : ''} ${e.begins ? 'border-t border-t-ink-2' : ''}`}
                >
                  <span className="w-20 shrink-0 text-sm whitespace-nowrap text-ink-2">
                    {before && dayText(before.at, timeZone) === day ? '' : day}
                  </span>
                  <span className="w-[70px] shrink-0 figures" title={instantText(e.at)}>
                    {timeText(e.at, timeZone)}
                  </span>
                  {s ? <SourceMark letter={s.mark} kind={s.kind} name={s.name} /> : null}
                  <span className={`shrink-0 wire ${marked(e) ? 'bg-caution-fill/40 font-bold' : ''}`}>
                    {e.kind === 'event' ? e.name : e.kind === 'identify' ? 'identify call' : e.kind}
                  </span>
                  <span className="min-w-0 truncate wire text-sm text-ink-2">
                    {e.set.length > 0
                      ? e.set
                          .map(
                            (p) =>
                              `${p.name} ${p.before === undefined || p.before === p.value ? '' : `${String(p.before)} → `}${String(p.value)}`,
                          )
                          .join(', ')
                      : e.page}
                  </span>
                  {e.findings.length > 0 ? (
                    <span className="ml-auto flex shrink-0 items-center gap-1.5 text-sm">
                      <span className="size-2.5 rotate-45 bg-stop" /> {checkTitle(e.findings[0]!)}
                    </span>
                  ) : null}
                </button>
              </div>
            );
          })}
        </div>
      </div>
    </>
  );
};
