/** What is shown of a sign-off and of a signal's history; apart from when one falls, so that a page need not bring that along. */
import type { Clearance, Signal } from './gate';

/** Why a question cannot be signed off as it is; `undefined` where it can. */
export const whyNotSigned = ({ gates }: Pick<Clearance, 'gates'>): string | undefined => {
  // The signal of the question is the worst of its gates, behind which one that is not judged is not seen.
  const worst = gates.find((g) => g.signal === 'stop') ?? gates.find((g) => g.signal === 'open');
  return worst && `The gate ${worst.gate} is ${worst.signal === 'stop' ? 'at stop' : 'not judged yet'}: ${worst.evidence}`;
};

/** A question's signal from a moment on. */
export interface SignalSince {
  readonly at: number;
  readonly signal: Signal;
  /** Those of its gates. */
  readonly gates?: Readonly<Record<string, Signal>>;
}

/** How one gate went. */
export const gateSince = (changes: readonly SignalSince[], gate: string): SignalSince[] =>
  changes.flatMap((c) => {
    const signal = c.gates?.[gate];
    return signal === undefined ? [] : [{ at: c.at, signal }];
  });

const WORST: readonly Signal[] = ['stop', 'caution', 'open', 'clear'];

/** The worst signal of each day, from changes in the order of time; days before the first one have none. Days begin with `starts`, the last of which ends
 *  the last day. Units: UTC epoch ms.
 */
export const signalsByDay = (changes: readonly SignalSince[], starts: readonly number[], now: number): (Signal | undefined)[] =>
  starts.slice(0, -1).map((from, i) => {
    const to = Math.min(starts[i + 1]!, now + 1);
    const before = changes.findLast((c) => c.at <= from)?.signal;
    const within = changes.filter((c) => c.at > from && c.at < to).map((c) => c.signal);
    const all = [...(before === undefined ? [] : [before]), ...within];
    return from > now ? undefined : WORST.find((s) => all.includes(s));
  });
