/** The draft, tried over the recorded messages. */
import type { Plan } from '../../core/plan/plan';
import { TryIt } from './TryIt';

export const TryDraft = ({ plan }: { plan: Plan }) => (
  <div className="max-w-[860px] px-7 py-5">
    <h2 className="text-lg font-bold">Try the draft</h2>
    <p className="mt-1 mb-3 text-ink-2">
      What publishing would do: which findings appear and vanish, who is counted, and what each question’s figure and signal become.
    </p>
    <TryIt plan={plan} tried={{}} text="Run it over the recorded messages" />
  </div>
);
