/** Since when a question, and each of its gates, has the signal that it has. */
import type { Signal, SinceWhen } from './gate';

/** A question's signals as they were noted when any of them changed. */
export interface NotedSignals {
  /** UTC epoch ms. */
  readonly at: number;
  readonly signal: Signal;
  readonly gates: Readonly<Record<string, { readonly signal: Signal }>>;
}

export interface Since {
  readonly signal: SinceWhen | undefined;
  readonly gates: Readonly<Record<string, SinceWhen>>;
}

/** Since when what is so now has been so without a break.
 *  Shape: `noted` in the order of time; `now` may be newer than the last of them. What differs from the last one noted began after it, and has no
 *  instant yet.
 */
export const sinceOf = (noted: readonly NotedSignals[], now: Pick<NotedSignals, 'signal' | 'gates'>): Since => {
  const since = (read: (n: Pick<NotedSignals, 'signal' | 'gates'>) => Signal | undefined): SinceWhen | undefined => {
    const wanted = read(now);
    const before = noted.findLastIndex((n) => read(n) !== wanted);
    const first = noted[before + 1];
    return first && { at: first.at, atLeast: before < 0 };
  };
  return {
    signal: since((n) => n.signal),
    gates: Object.fromEntries(
      Object.keys(now.gates).flatMap((g) => {
        const at = since((n) => n.gates[g]?.signal);
        return at === undefined ? [] : [[g, at] as const];
      }),
    ),
  };
};
