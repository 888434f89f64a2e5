/** Copies a name exactly, without blanks around it. */
import { Check, Copy } from 'lucide-react';
import { useState } from 'react';

const SHOWN_MS = 1200;

export const CopyName = ({ name }: { name: string }) => {
  const [done, setDone] = useState(false);
  const copy = async () => {
    await navigator.clipboard.writeText(name);
    setDone(true);
    setTimeout(() => setDone(false), SHOWN_MS);
  };
  return (
    <button
      type="button"
      aria-label={`Copy ${name}`}
      title={done ? 'Copied' : 'Copy the name'}
      className="inline-flex min-h-[24px] min-w-[24px] items-center justify-center text-ink-2 hover:text-accent"
      onClick={() => void copy()}
    >
      {done ? <Check size={14} /> : <Copy size={14} />}
    </button>
  );
};
