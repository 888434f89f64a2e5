/** How far a long work is. */
export const ProgressBar = ({
  done,
  total,
  label,
  className = 'w-full',
}: {
  done: number;
  total: number;
  label: string;
  className?: string;
}) => (
  <progress
    aria-label={label}
    value={done}
    max={total}
    className={`h-2 appearance-none overflow-hidden border border-rule bg-paper [&::-moz-progress-bar]:bg-accent [&::-webkit-progress-bar]:bg-paper [&::-webkit-progress-value]:bg-accent ${className}`}
  />
);
