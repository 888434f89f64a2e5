/** Stands in a page before the sender is loaded, and keeps what is told: each call, when, on which path, and a copy of what was given. */
import { CALLS } from './calls';

const page = globalThis as unknown as { signalPost?: Record<string, unknown> };
if (!page.signalPost) {
  const kept: unknown[] = [];
  const stub: Record<string, unknown> = { kept };
  page.signalPost = stub;
  for (const call of CALLS)
    stub[call] = (...given: unknown[]) => {
      let copy = given;
      try {
        if (call !== 'start') copy = JSON.parse(JSON.stringify(given)) as unknown[];
      } catch {
        // What cannot be copied is kept as it is.
      }
      kept.push([call, Date.now(), location.pathname, copy]);
    };
}
