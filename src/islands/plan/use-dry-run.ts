/** A dry run under way: begun, followed, cancelled, and held until something else is tried. */
import { useCallback, useEffect, useRef, useState } from 'react';
import { askSteps, type Progress } from '../../client/api';
import type { Edit } from '../../core/plan/edit';
import { authorName } from '../workplace/author';
import type { DryRun } from '../../core/scenario/dry-run';

export interface Tried {
  readonly proposal?: string;
  readonly edits?: readonly Edit[];
  /** Days of a stretch; all history where there is none. */
  readonly from?: string;
  readonly through?: string;
  /** Whether what is found is kept with the proposal. */
  readonly keep?: boolean;
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
  const run = useCallback(async ({ proposal, edits = [], keep = false, ...stretch }: Tried = {}): Promise<DryRun | undefined> => {
    abort.current?.abort();
    const mine = new AbortController();
    abort.current = mine;
    setError('');
    setResult(undefined);
    setProgress({ done: 0, total: 1 });
    let found: DryRun | undefined;
    try {
      const onProgress = (p: Progress): void => (mine.signal.aborted ? undefined : setProgress(p));
      found =
        keep && proposal !== undefined
          ? await askSteps('POST /api/kept-runs', { body: { proposal, author: authorName(), ...stretch } }, onProgress, mine.signal)
          : await askSteps(
              'POST /api/dry-run',
              { body: { ...(proposal === undefined ? {} : { proposal }), edits: [...edits], ...stretch } },
              onProgress,
              mine.signal,
            );
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
