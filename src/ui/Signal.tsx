/** The signal: a post with an arm. Level = stop, slanted = caution, raised = clear, no arm = not judged yet. */
import type { Signal as SignalState } from '../core/clearance/gate';
import { ARM_TURN, GLYPH, SIGNAL_WORDS } from '../core/clearance/glyph';

export { SIGNAL_WORDS };
export type { SignalState };
export const SIGNAL_TEXT: Record<SignalState, string> = {
  stop: 'text-stop',
  caution: 'text-caution',
  clear: 'text-clear',
  open: 'text-ink-2',
};

const SIZES = { small: 16, medium: 24, large: 44 } as const;
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
      <path d={GLYPH.post} stroke="var(--ink)" strokeWidth="1.7" strokeLinecap="square" fill="none" />
      {state === 'open' ? (
        <circle cx="7" cy="6" r="2.6" fill="var(--paper)" stroke="var(--ink)" strokeWidth="1.5" />
      ) : (
        <g transform={`rotate(${ARM_TURN[state]} 7 7)`}>
          <path d={GLYPH.arm} fill={FILL[state]} />
          <path d={GLYPH.band} fill="var(--paper)" />
          <circle cx="7" cy="7" r="1.3" fill="var(--paper)" />
        </g>
      )}
    </svg>
  );
};
