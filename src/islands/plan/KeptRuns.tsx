/** Dry runs that were kept with a proposal: what it would have done when somebody looked. */
import { useState } from 'react';
import type { KeptRun } from '../../core/plan/review';
import type { Plan } from '../../core/plan/plan';
import { sumOf } from '../../core/scenario/worse';
import { Age } from '../../ui/Age';
import { DryRunResult } from './DryRunResult';

export const KeptRuns = ({ runs, plan }: { runs: readonly KeptRun[]; plan: Plan }) => {
  const [open, setOpen] = useState<number>();
  if (runs.length === 0) return null;
  return (
    <ul aria-label="Kept with the proposal" className="mb-2">
      {runs.map((r) => (
        <li key={r.id} className="border-t border-rule py-1.5">
          <button
            type="button"
            aria-expanded={open === r.id}
            className="min-h-[24px] text-left hover:text-accent"
            onClick={() => setOpen(open === r.id ? undefined : r.id)}
          >
            <b>
              Tried by {r.author}, <Age at={r.at} />:
            </b>{' '}
            {sumOf(r.run)}
            {r.isOld ? <span className="text-caution"> (the proposal was edited since)</span> : null}
          </button>
          {open === r.id ? <DryRunResult run={r.run} plan={plan} /> : null}
        </li>
      ))}
    </ul>
  );
};
