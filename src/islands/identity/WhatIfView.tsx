/** The rules of the draft tried over the recorded messages: persons and figures before and after, before anything is published. */
import { useRef, useState } from 'react';
import { settingsOf } from '../../core/plan/plan';
import { sameValue } from '../../core/plan/edit';
import type { WhatIf } from '../../core/identity/what-if';
import { PERSON_SIDES } from './person-sides';
import { Button } from '../../ui/Button';
import { ProgressBar } from '../../ui/ProgressBar';
import { count, decimal, percent } from '../../ui/format';
import { askSteps, type Progress } from '../../client/api';
import { places } from '../workplace/place';
import { usePlan, useWorkplace } from '../workplace/context';

const number = (n: number | undefined, isShare: boolean): string => (n === undefined ? '–' : isShare ? percent(n) : decimal(n));

export const WhatIfView = () => {
  const plan = usePlan();
  const { go } = useWorkplace();
  const rules = settingsOf(plan).identity;
  const [tried, setTried] = useState<{ readonly of: typeof rules; readonly result: WhatIf } | undefined>();
  const [progress, setProgress] = useState<Progress | undefined>();
  const [error, setError] = useState('');
  const abort = useRef<AbortController | undefined>(undefined);
  const run = async (): Promise<void> => {
    setError('');
    setProgress({ done: 0, total: 1 });
    const mine = new AbortController();
    abort.current = mine;
    try {
      setTried({ of: rules, result: await askSteps('POST /api/what-if', { body: { identity: rules } }, setProgress, mine.signal) });
    } catch (e) {
      if (!mine.signal.aborted) setError((e as Error).message);
    }
    setProgress(undefined);
  };
  const result = tried?.result;
  const stale = tried !== undefined && !sameValue(tried.of, rules);
  return (
    <div className="px-7 py-5">
      <h1 className="pr-8 text-[1.5rem] leading-tight font-bold">Try rules before publishing</h1>
      <p className="mb-3 max-w-[90ch] text-ink-2">
        Change rules and guards in the margin, then try them: all recorded messages are linked again and every question is counted under
        both sets. Nothing is published.
      </p>
      <div className="flex items-center gap-3">
        {progress ? (
          <>
            <Button onClick={() => abort.current?.abort()}>Cancel</Button>
            <ProgressBar label="Progress of the trial" done={progress.done} total={progress.total} className="w-64" />
          </>
        ) : (
          <Button look="full" onClick={() => void run()}>
            Try the draft’s rules
          </Button>
        )}
        {stale ? <span className="text-caution">The rules changed since.</span> : null}
        {result && !progress ? (
          <Button look="quiet" onClick={() => go(...places.plan('publish'))}>
            Go to Publish
          </Button>
        ) : null}
      </div>
      {error ? (
        <p role="alert" className="mt-3 border-l-4 border-stop bg-ground px-3 py-1">
          {error}
        </p>
      ) : null}
      {result ? (
        <div aria-live="polite">
          {result.warnings.map((w) => (
            <p key={w} role="alert" className="mt-3 border-l-4 border-stop bg-ground px-3 py-1 font-semibold">
              {w}
            </p>
          ))}
          <table className="mt-4 border-collapse">
            <caption className="sr-only">Persons before and after</caption>
            <thead>
              <tr className="text-right text-sm text-ink-2">
                <th />
                <th className="pl-8 font-medium">in force</th>
                <th className="pl-8 font-medium">draft</th>
              </tr>
            </thead>
            <tbody>
              {PERSON_SIDES.map(([key, name]) => {
                const differs = result.before[key] !== result.after[key];
                return (
                  <tr key={key} className="border-t border-rule text-right figures">
                    <th className="py-1 text-left font-normal">{name}</th>
                    <td className="pl-8">{count(result.before[key])}</td>
                    <td className={`pl-8 ${differs ? 'font-bold text-accent' : ''}`}>{count(result.after[key])}</td>
                  </tr>
                );
              })}
            </tbody>
          </table>
          <h2 className="mt-5 font-bold">Every question</h2>
          <table className="mt-1 w-full border-collapse">
            <thead>
              <tr className="text-right text-sm text-ink-2">
                <th className="text-left font-medium">question</th>
                <th className="pl-4 font-medium">in force</th>
                <th className="pl-4 font-medium">draft</th>
                <th className="pl-4 font-medium">user ID first</th>
                <th className="pl-4 font-medium">device only</th>
              </tr>
            </thead>
            <tbody>
              {result.figures.map((f) => (
                <tr key={f.questionId} className="border-t border-rule text-right figures">
                  <th className="max-w-[330px] py-1 text-left font-normal">
                    <button
                      type="button"
                      className="min-h-[24px] max-w-full truncate text-left hover:text-accent"
                      onClick={() => go(...places.question(f.questionId))}
                    >
                      {f.text}
                    </button>
                  </th>
                  <td className="pl-4">{number(f.before, f.isShare)}</td>
                  <td className={`pl-4 ${f.before === f.after ? '' : 'font-bold text-accent'}`}>{number(f.after, f.isShare)}</td>
                  <td className="pl-4 text-ink-2">{number(f.userIdFirst, f.isShare)}</td>
                  <td className="pl-4 text-ink-2">{number(f.deviceOnly, f.isShare)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      ) : null}
    </div>
  );
};
