/** The worker of the plan's own rules, as the page starts it. */
import { wrap } from 'comlink';
import type { LintWorker } from '../../workers/lint-worker';
import type { LintPeer } from './lint-client';

/** A call never ends when its worker dies: its error is what the call is answered with. */
export const startLintWorker = (): LintPeer => {
  const worker = new Worker(new URL('../../workers/lint-worker.ts', import.meta.url), { type: 'module' });
  const died = new Promise<never>((_, reject) => {
    worker.addEventListener('error', (e) => reject(new Error(e.message || 'the worker of the checks could not start')));
  });
  died.catch(() => undefined);
  const remote = wrap<LintWorker>(worker);
  return {
    api: {
      follow: (edits) => Promise.race([remote.follow(edits), died]),
      reset: (plan) => Promise.race([remote.reset(plan), died]),
    },
    end: () => worker.terminate(),
  };
};
