/** A dry run under way: begun, followed, cancelled, and held until something else is tried. */
import { useCallback, useEffect, useRef, useState } from 'react';
import { askSteps, type Progress } from '../../client/api';
import type { Edit } from '../../core/plan/edit';
import type { DryRun } from '../../core/scenario/dry-run';

export interface Tried {
  readonly proposal?: string;
  readonly edits?: readonly Edit[];
}

export const useDryRun = () => {
  const [result, setResult] = useState<DryRun>();
  const [progress, setProgress] = useState<Progress>();
  const [error, setError] = useState('');
  const abort = useRef<AbortController | undefined>(undefined);
  const cancel = useCallback(() => {
    abort.current?.abort();
    setProgress(undefined);
  }, []);
  useEffect(() => () => abort.current?.abort(), []);
  /** What was found; nothing where it failed or was cancelled. */
  const run = useCallback(async ({ proposal, edits = [] }: Tried = {}): Promise<DryRun | undefined> => {
    abort.current?.abort();
    const mine = new AbortController();
    abort.current = mine;
    setError('');
    setResult(undefined);
    setProgress({ done: 0, total: 1 });
    let found: DryRun | undefined;
    try {
      const body = { ...(proposal === undefined ? {} : { proposal }), edits: [...edits] };
      found = await askSteps('POST /api/dry-run', { body }, (p) => (mine.signal.aborted ? undefined : setProgress(p)), mine.signal);
      if (!mine.signal.aborted) setResult(found);
    } catch (e) {
      if (!mine.signal.aborted) setError((e as Error).message);
    }
    if (mine.signal.aborted) return undefined;
    setProgress(undefined);
    return found;
  }, []);
  const forget = useCallback(() => {
    cancel();
    setResult(undefined);
    setError('');
  }, [cancel]);
  return { result, progress, error, run, cancel, forget };
};
