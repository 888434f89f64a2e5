/** How far a long work is. */
export const ProgressBar = ({ done, of, label, className = 'w-full' }: { done: number; of: number; label: string; className?: string }) => (
  <progress
    aria-label={label}
    value={done}
    max={of}
    className={`h-2 appearance-none overflow-hidden border border-rule bg-paper [&::-moz-progress-bar]:bg-accent [&::-webkit-progress-bar]:bg-paper [&::-webkit-progress-value]:bg-accent ${className}`}
  />
);
