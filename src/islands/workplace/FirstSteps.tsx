/** The way from an empty workspace to a first verdict: one line that ticks itself off, and can be put away. */
import { Check, X } from 'lucide-react';
import { useState } from 'react';
import { doneSteps, FIRST_STEPS, nextStep, type FirstStepId } from '../../core/plan/first-steps';
import { useDraft, useWorkplace } from './context';
import { places, type To } from './place';
import { useFindings } from './queries';

const PUT_AWAY = 'signal-post-first-steps';

const WHERE: Readonly<Record<FirstStepId, To>> = {
  question: ['questions'],
  event: places.plan('event'),
  source: places.plan('source'),
  key: ['hand-off'],
  message: places.arrivals('live'),
  verdict: places.plan('event'),
};

export const FirstSteps = () => {
  const { plan, server, proposal } = useDraft();
  const { go } = useWorkplace();
  const found = useFindings().data;
  const [away, setAway] = useState(() => localStorage.getItem(PUT_AWAY) !== null);
  // Shown to the end to whoever began; a workspace that was complete when the page came needs no way.
  const [began, setBegan] = useState(false);
  if (away || !plan || !server || !found || proposal) return null;
  const done = doneSteps({ plan, keys: server.keys, received: found.received, published: server.published !== null });
  const next = nextStep(done);
  if (next && !began) setBegan(true);
  if (!next && !began) return null;
  const putAway = (): void => {
    localStorage.setItem(PUT_AWAY, new Date().toISOString());
    setAway(true);
  };
  return (
    <nav aria-label="First steps" className="flex flex-wrap items-center gap-x-1 border-b border-rule bg-wash px-4 py-1 text-sm">
      <b className="mr-2">{next ? 'First steps' : 'All first steps are done'}</b>
      <ol className="flex flex-wrap items-center gap-x-1">
        {FIRST_STEPS.map((s, i) => {
          const isDone = done.has(s.id);
          return (
            <li key={s.id} className="flex items-center">
              <button
                type="button"
                aria-current={s === next ? 'step' : undefined}
                onClick={() => go(...WHERE[s.id])}
                className={`inline-flex min-h-[26px] items-center gap-1 px-1.5 hover:text-accent ${s === next ? 'font-semibold text-accent underline decoration-2 underline-offset-4' : isDone ? 'text-ink-2' : ''}`}
              >
                {isDone ? <Check size={14} className="text-clear" aria-label="done" /> : <span className="figures">{i + 1}</span>} {s.title}
              </button>
            </li>
          );
        })}
      </ol>
      <button type="button" onClick={putAway} aria-label="Hide the first steps" className="ml-auto p-1 text-ink-2 hover:text-accent">
        <X size={15} />
      </button>
    </nav>
  );
};
