/** The logbook of one person: found by any identifier; what they did, in order, with their user properties at each moment. */
import { useQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { ArrowDown, ArrowUp, Search } from 'lucide-react';
import { useMemo, useRef, useState } from 'react';
import type { LiveMessage } from '../../core/arrival/live-message';
import type { Logbook, LogbookEntry } from '../../core/arrival/logbook';
import { checkTitle } from '../../core/arrival/words';
import { settingsOf } from '../../core/plan/plan';
import { Button } from '../../ui/Button';
import { ageText, count, dayText, instantText, plural, timeText } from '../../ui/format';
import { SourceMark } from '../../ui/SourceMark';
import { Failed, Loading } from '../../ui/States';
import { get } from '../workplace/api';
import { usePlan, useWorkplace } from '../workplace/context';

interface Identifier {
  readonly kind: string;
  readonly value: string;
}

const ROW = 32;
export const logbookPlace = (i: Identifier): string => `logbook:${i.kind}:${i.value}`;
const span = (ms: number): string => {
  const minutes = Math.round(ms / 60_000);
  return minutes >= 60 ? `${count(Math.floor(minutes / 60))} h ${minutes % 60} min` : `${minutes} min`;
};

const Finder = ({ small }: { small: boolean }) => {
  const { go } = useWorkplace();
  const [text, setText] = useState('');
  const { data } = useQuery({
    queryKey: ['identifiers', text],
    queryFn: ({ signal }) => get<Identifier[]>(`/api/logbook?like=${encodeURIComponent(text)}`, signal),
    enabled: text.trim().length > 0,
    placeholderData: (before) => before,
  });
  const found = text.trim() === '' ? [] : (data ?? []);
  return (
    <div className={small ? 'relative w-72' : 'relative w-[440px]'}>
      <label className="flex items-center gap-2 border border-ink-2 px-2">
        <Search size={15} className="text-ink-2" />
        <input
          type="search"
          aria-label="Find a person by an identifier"
          placeholder={small ? 'Find another person' : 'User ID, device, anonymous ID, or a part of it'}
          value={text}
          onChange={(e) => setText(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === 'Enter' && found[0]) {
              go('arrivals', logbookPlace(found[0]));
              setText('');
            }
          }}
          className="w-full bg-transparent py-1.5 wire outline-none placeholder:font-[inherit]"
        />
      </label>
      {text.trim() !== '' && data ? (
        <ul className="absolute z-30 max-h-72 w-full overflow-y-auto border border-t-0 border-ink bg-paper shadow-[4px_4px_0_var(--rule)]">
          {found.map((i) => (
            <li key={`${i.kind} ${i.value}`}>
              <button
                type="button"
                className="flex min-h-[28px] w-full items-baseline gap-3 px-2 text-left hover:bg-wash"
                onClick={() => {
                  go('arrivals', logbookPlace(i));
                  setText('');
                }}
              >
                <span className="wire">{i.value}</span> <span className="ml-auto text-sm text-ink-2">{i.kind}</span>
              </button>
            </li>
          ))}
          {found.length === 0 ? <li className="px-2 py-1 text-ink-2">No identifier contains this.</li> : null}
        </ul>
      ) : null}
    </div>
  );
};

const Fact = ({ name, children }: { name: string; children: React.ReactNode }) => (
  <div className="border-l border-rule pl-3">
    <dt className="text-sm text-ink-2">{name}</dt>
    <dd className="font-semibold">{children}</dd>
  </div>
);

const Timeline = ({ book, chosen, onChoose }: { book: Logbook; chosen: number | undefined; onChoose: (m: LiveMessage) => void }) => {
  const plan = usePlan();
  const { timeZone } = settingsOf(plan);
  const [source, setSource] = useState('');
  const [find, setFind] = useState('');
  const scroll = useRef<HTMLDivElement>(null);
  const shown = useMemo(() => book.entries.filter((e) => source === '' || e.sourceId === source), [book, source]);
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
  const toDay = (day: string) => {
    const i = shown.findIndex((e) => new Intl.DateTimeFormat('sv-SE', { timeZone }).format(e.at) >= day);
    if (i >= 0) virtual.scrollToIndex(i, { align: 'start' });
  };
  const choose = async (e: LogbookEntry) => {
    const [m] = await get<LiveMessage[]>(`/api/messages?seq=${e.seq}`);
    if (m) onChoose(m);
  };
  const hits = needle === '' ? 0 : shown.filter(marked).length;
  return (
    <>
      <div className="flex flex-wrap items-center gap-3 border-b border-rule px-6 py-2 text-sm">
        <select
          aria-label="Source"
          className="border border-rule bg-transparent px-1.5 py-1"
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
        <label className="flex items-center gap-1.5">
          to the day
          <input type="date" className="border border-rule bg-transparent px-1.5 py-0.5" onChange={(e) => toDay(e.target.value)} />
        </label>
        <input
          type="search"
          aria-label="Mark an event or page"
          placeholder="Mark an event or page"
          value={find}
          onChange={(e) => {
            setFind(e.target.value);
            setAt(-1);
          }}
          onKeyDown={(e) => {
            if (e.key === 'Enter') jump(e.shiftKey ? -1 : 1);
          }}
          className="w-48 border border-rule bg-transparent px-2 py-1"
        />
        {needle === '' ? null : (
          <>
            <span className="text-ink-2">{plural(hits, 'mark')}</span>
            <Button look="quiet" className="!px-1" aria-label="Next mark" onClick={() => jump(1)}>
              <ArrowDown size={14} />
            </Button>
            <Button look="quiet" className="!px-1" aria-label="Mark before" onClick={() => jump(-1)}>
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
                    {e.name === '' ? 'identify call' : e.name}
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

export const LogbookView = ({
  identifier,
  chosen,
  onChoose,
}: {
  identifier: Identifier | undefined;
  chosen: number | undefined;
  onChoose: (m: LiveMessage) => void;
}) => {
  const plan = usePlan();
  const { go } = useWorkplace();
  const { timeZone } = settingsOf(plan);
  const { data, error, refetch } = useQuery({
    queryKey: ['logbook', identifier?.kind, identifier?.value],
    queryFn: ({ signal }) =>
      get<Logbook>(`/api/logbook?kind=${encodeURIComponent(identifier!.kind)}&value=${encodeURIComponent(identifier!.value)}`, signal),
    enabled: identifier !== undefined,
    retry: false,
    refetchInterval: 15_000,
  });
  if (!identifier)
    return (
      <div className="px-6 py-4">
        <h1 className="mb-1 text-[1.2rem] font-bold">Logbook of a person</h1>
        <p className="mb-3 max-w-[60ch] text-ink-2">
          Everything that one person sent, over all sources, in order. Find the person by any identifier; press Enter for the first.
        </p>
        <Finder small={false} />
      </div>
    );
  if (error && !data)
    return (
      <div>
        <div className="px-6 pt-4">
          <Finder small={false} />
        </div>
        <Failed what="The logbook" error={error} retry={() => void refetch()} />
      </div>
    );
  if (!data) return <Loading what="the logbook" />;
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <header className="px-6 pt-3 pb-2">
        <div className="flex items-center gap-4 pr-8">
          <h1 className="min-w-0 truncate wire text-[1.15rem] font-bold">{identifier.value}</h1>
          <span className="ml-auto">
            <Finder small />
          </span>
        </div>
        <dl className="mt-2 flex flex-wrap gap-x-5 gap-y-2">
          <Fact name="first seen">
            <span title={instantText(data.firstAt)}>{dayText(data.firstAt, timeZone)}</span>
          </Fact>
          <Fact name="last seen">
            <span title={instantText(data.lastAt)}>{ageText(data.lastAt, Date.now())}</span>
          </Fact>
          <Fact name="messages">{count(data.messages)}</Fact>
          <Fact name="sessions">{count(data.sessions)}</Fact>
          <Fact name="time in use">{span(data.inUseMs)}</Fact>
          {data.userProperties.map((p) => (
            <Fact key={p.name} name={`${p.name}, now`}>
              <span className="wire">{String(p.value)}</span>
            </Fact>
          ))}
        </dl>
        <p className="mt-2 text-sm text-ink-2">
          Known by{' '}
          {data.identifiers.slice(0, 6).map((i, n) => (
            <span key={`${i.kind} ${i.value}`}>
              {n > 0 ? ', ' : ''}
              {i.kind}{' '}
              <button type="button" className="wire text-ink hover:text-accent" onClick={() => go('arrivals', logbookPlace(i))}>
                {i.value}
              </button>{' '}
              ({count(i.messages)})
            </span>
          ))}
          {data.identifiers.length > 6 ? ` and ${count(data.identifiers.length - 6)} more` : ''}
          {data.links.length > 0
            ? `; joined by ${plural(data.links.length, 'link')}, the first on ${dayText(Math.min(...data.links.map((l) => l.firstAt)), timeZone)}.`
            : '.'}
        </p>
      </header>
      <Timeline key={`${identifier.kind} ${identifier.value}`} book={data} chosen={chosen} onChoose={onChoose} />
    </div>
  );
};
