/** The signal: a post with an arm. Level = stop, slanted = caution, raised = clear, no arm = not judged yet. */
export type SignalState = 'stop' | 'caution' | 'clear' | 'open';

export const SIGNAL_WORDS: Record<SignalState, string> = { stop: 'Stop', caution: 'Caution', clear: 'Clear', open: 'Not judged yet' };
export const SIGNAL_TEXT: Record<SignalState, string> = {
  stop: 'text-stop',
  caution: 'text-caution',
  clear: 'text-clear',
  open: 'text-ink-2',
};

const SIZES = { small: 16, medium: 24, large: 44 } as const;
const TURN: Record<Exclude<SignalState, 'open'>, number> = { stop: 0, caution: 34, clear: -48 };
const FILL: Record<Exclude<SignalState, 'open'>, string> = { stop: 'var(--stop)', caution: 'var(--caution-fill)', clear: 'var(--clear)' };

export const Signal = ({
  state,
  size = 'medium',
  label = SIGNAL_WORDS[state],
}: {
  state: SignalState;
  size?: keyof typeof SIZES;
  label?: string | null;
}) => {
  const px = SIZES[size];
  return (
    <svg
      width={px}
      height={px}
      viewBox="0 0 24 24"
      className="shrink-0"
      {...(label === null ? { 'aria-hidden': true } : { role: 'img', 'aria-label': label })}
    >
      <path d="M7 4.5V22M4.2 22h5.6" stroke="var(--ink)" strokeWidth="1.7" strokeLinecap="square" fill="none" />
      {state === 'open' ? (
        <circle cx="7" cy="6" r="2.6" fill="var(--paper)" stroke="var(--ink)" strokeWidth="1.5" />
      ) : (
        <g transform={`rotate(${TURN[state]} 7 7)`}>
          <path d="M5 4.4H21.4V9.6H5z" fill={FILL[state]} />
          <path d="M16.2 4.4h2v5.2h-2z" fill="var(--paper)" />
          <circle cx="7" cy="7" r="1.3" fill="var(--paper)" />
        </g>
      )}
    </svg>
  );
};
