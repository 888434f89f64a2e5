/** A button that tries something over the recorded messages, with its progress and what it found. */
import { Button } from '../../ui/Button';
import { ProgressBar } from '../../ui/ProgressBar';
import type { Plan } from '../../core/plan/plan';
import { DryRunResult } from './DryRunResult';
import { useDryRun, type Tried } from './use-dry-run';

export const TryIt = ({ plan, tried, text = 'Try it' }: { plan: Plan; tried: Tried; text?: string }) => {
  const { result, progress, error, run, cancel } = useDryRun();
  return (
    <div>
      <div className="flex items-center gap-3">
        {progress ? (
          <>
            <Button onClick={cancel}>Cancel</Button>
            <ProgressBar label="Progress of the dry run" done={progress.done} total={progress.total} className="w-64" />
          </>
        ) : (
          <Button onClick={() => void run(tried)}>{text}</Button>
        )}
        <span className="text-sm text-ink-2">Nothing is published or stored.</span>
      </div>
      {error ? (
        <p role="alert" className="mt-2 border-l-4 border-stop bg-ground px-3 py-1">
          {error}
        </p>
      ) : null}
      {result ? (
        <div className="mt-3">
          <DryRunResult run={result} plan={plan} />
        </div>
      ) : null}
    </div>
  );
};
