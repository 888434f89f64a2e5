/** The line: the six steps of the job as stations, with what waits at each. Navigation and status in one. */
export interface LineStation {
  readonly id: string;
  readonly title: string;
  readonly href: string;
  /** What waits there, in two or three words, gravest first; empty while that is not known yet. */
  readonly waiting: readonly { readonly text: string; readonly tone: 'stop' | 'caution' | 'clear' | 'plain' }[];
  /** A broken link of the chain: drawn as a gap in the line. */
  readonly broken: boolean;
}

const TONE = { stop: 'text-stop font-semibold', caution: 'text-caution font-semibold', clear: 'text-clear', plain: 'text-ink-2' } as const;

export const Line = ({ stations, current, onGo }: { stations: readonly LineStation[]; current: string; onGo: (id: string) => void }) => (
  <nav aria-label="Stations" className="flex min-w-0 flex-1">
    {stations.map((s, i) => {
      const here = s.id === current;
      return (
        <a
          key={s.id}
          href={s.href}
          aria-current={here ? 'page' : undefined}
          onClick={(e) => {
            if (e.metaKey || e.ctrlKey) return;
            e.preventDefault();
            onGo(s.id);
          }}
          className="group flex min-w-0 flex-1 flex-col items-center gap-[3px] py-2"
        >
          <span className={`text-[0.97rem] leading-tight group-hover:underline ${here ? 'font-bold text-accent' : 'font-medium'}`}>
            {s.title}
          </span>
          <span className="relative flex h-5 w-full items-center justify-center" aria-hidden>
            {i > 0 ? <span className="absolute top-[9px] right-1/2 left-0 h-[2px] bg-ink" /> : null}
            {i < stations.length - 1 ? <span className="absolute top-[9px] right-0 left-1/2 h-[2px] bg-ink" /> : null}
            {s.broken ? <span className="absolute top-[5px] h-[10px] w-10 bg-paper" /> : null}
            <span
              className={`z-10 flex items-center justify-center border-2 ${here ? `border-accent bg-accent ${s.broken ? 'size-[15px]' : 'size-[19px]'}` : `size-[15px] bg-paper ${s.broken ? 'border-stop' : 'border-ink'}`} ${s.broken ? 'rotate-45' : 'rounded-full'} ${s.waiting.length === 0 ? 'border-dotted' : ''}`}
            />
          </span>
          <span className="flex h-4 gap-1.5 text-[0.83rem] leading-none whitespace-nowrap figures">
            {s.waiting.length === 0 ? <span className="text-ink-2">loading …</span> : null}
            {s.waiting.map((w) => (
              <span key={w.text} className={TONE[w.tone]}>
                {w.text}
              </span>
            ))}
          </span>
        </a>
      );
    })}
  </nav>
);
