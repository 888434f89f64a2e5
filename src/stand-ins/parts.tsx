/** What every stand-in has: its frame, its fault switches, and the answers of the intake. */
import { useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { likeOf } from '../client/element-like';
import { elementOf, pressedAt, type Element } from '../core/definitions/element';
import { StandInSender, type Sent } from './sender';

export const BUTTON = 'border-ink hover:bg-ink hover:text-paper border-2 px-3 py-1 font-bold disabled:opacity-50';

export const hex = (digits: number): string => crypto.randomUUID().replaceAll('-', '').slice(0, digits);

/** A value that stays the same in this tab. */
export const remembered = (key: string, make: () => string): string => {
  const known = sessionStorage.getItem(key);
  if (known) return known;
  const made = make();
  sessionStorage.setItem(key, made);
  return made;
};

/** The member who is signed in, in every stand-in of this tab. */
export const useMember = (): [string | undefined, (m: string | undefined) => void] => {
  const [member, setMember] = useState<string | undefined>(() => sessionStorage.getItem('member') ?? undefined);
  return [
    member,
    (m) => {
      if (m === undefined) sessionStorage.removeItem('member');
      else sessionStorage.setItem('member', m);
      setMember(m);
    },
  ];
};

export const newMember = (): string => `m-9${Math.floor(Math.random() * 9000 + 1000)}`;

export interface Fault<Id extends string> {
  readonly id: Id;
  readonly text: string;
}

const SHOWN = 3;

/** The switches that are on, the senders of these sources, and what the intake answered last. */
export const useStandIn = <F extends string>(sources: readonly { readonly sourceId: string; readonly release: string }[]) => {
  const [sent, setSent] = useState<readonly Sent[]>([]);
  const [on, setOn] = useState<ReadonlySet<F>>(new Set());
  const senders = useMemo(
    () => sources.map((s) => new StandInSender(s.sourceId, s.release, (x) => setSent((list) => [x, ...list].slice(0, SHOWN)))),
    // The sources of a stand-in never change.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [],
  );
  return { sent, senders, on, setOn, has: (f: F): boolean => on.has(f) };
};

/** Tells what is pressed inside, before the page does anything about it. */
const Pressed = ({ onPressed, children }: { onPressed: ((e: Element) => void) | undefined; children: ReactNode }) => {
  const area = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const own = area.current;
    if (!own || !onPressed) return;
    const hear = (e: MouseEvent): void => {
      const pressed = pressedAt(likeOf(e.target));
      if (pressed) onPressed(elementOf(pressed));
    };
    own.addEventListener('click', hear, true);
    return () => own.removeEventListener('click', hear, true);
  }, [onPressed]);
  return <div ref={area}>{children}</div>;
};

export const StandInFrame = <F extends string>({
  title,
  release,
  who,
  action,
  faults,
  on,
  onFaults,
  sent,
  onPressed,
  children,
}: {
  title: string;
  release: string;
  who: string;
  action?: ReactNode;
  faults: readonly Fault<F>[];
  on: ReadonlySet<F>;
  onFaults: (f: ReadonlySet<F>) => void;
  sent: readonly Sent[];
  /** Called with what is pressed on the page itself. */
  onPressed?: (e: Element) => void;
  children: ReactNode;
}) => (
  <div className="min-h-dvh bg-paper text-[14px]">
    <div className="flex items-baseline gap-2 bg-ink px-4 py-2 text-paper">
      <b className="text-lg">Oddment</b> {title}
      <span className="ml-auto text-sm">stand-in, release {release}</span>
    </div>
    <div className="flex items-center gap-2 border-b border-rule px-4 py-1.5 text-sm">
      <span className="truncate wire">{who}</span>
      <span className="ml-auto">{action}</span>
    </div>
    <Pressed onPressed={onPressed}>{children}</Pressed>
    <section aria-label="Faults" className="border-t-2 border-ink bg-ground px-4 py-3">
      <h2 className="font-bold">Faults of this stand-in</h2>
      {faults.map((f) => (
        <label key={f.id} className="flex items-start gap-2 py-1 text-[0.93rem]">
          <input
            type="checkbox"
            className="mt-1 accent-accent"
            checked={on.has(f.id)}
            onChange={(e) => {
              const next = new Set(on);
              if (e.target.checked) next.add(f.id);
              else next.delete(f.id);
              onFaults(next);
            }}
          />
          {f.text}
        </label>
      ))}
      <div aria-live="polite" className="mt-2 min-h-16 border-t border-rule pt-2 text-sm">
        {sent.map((s, i) => (
          <p key={`${s.name} ${sent.length - i}`}>
            <span className="wire">{s.name}</span> {s.answer}
          </p>
        ))}
      </div>
    </section>
  </div>
);
