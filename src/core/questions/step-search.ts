/** How far one person gets along steps, searched exactly: for the few for whom it hangs on whose clock is right. */

export interface StepMessage {
  /** UTC epoch ms. */
  readonly at: number;
  readonly row: number;
  readonly source: number;
  /** Bits of the steps that it fulfils. */
  readonly bits: number;
}

export interface StepRules {
  readonly steps: number;
  readonly windowMs: number;
  readonly toleranceMs: number;
}

/** Whether one message counts as coming after another: strictly by time and arrival within a source, else reversed by no more than the
 *  tolerance.
 */
export const isAfter = (a: StepMessage, b: StepMessage, toleranceMs: number): boolean =>
  a.source === b.source || toleranceMs === 0 ? b.at > a.at || (b.at === a.at && b.row > a.row) : b.at >= a.at - toleranceMs;

/** A person with so many messages that the search would take long keeps what is certain. */
const MAX_TRIES = 20_000;

/** The most steps that a chain of messages reaches in order: each after all before it, all within the window of the first.
 *  Shape: `list` by time; `known` are the steps that are certain already, and the least that comes back.
 */
export const inOrderExactly = (list: readonly StepMessage[], { steps, windowMs, toleranceMs }: StepRules, known: number): number => {
  let best = known;
  let tries = 0;
  const chain: StepMessage[] = [];
  const extend = (): void => {
    const step = chain.length;
    best = Math.max(best, step);
    if (best === steps) return;
    for (const m of list) {
      if (++tries > MAX_TRIES) return;
      if (!(m.bits & (1 << step)) || chain.includes(m)) continue;
      if (chain[0] && m.at - chain[0].at > windowMs) break;
      if (!chain.every((c) => isAfter(c, m, toleranceMs))) continue;
      chain.push(m);
      extend();
      chain.pop();
      if (best === steps) return;
    }
  };
  extend();
  return best;
};

/** The most steps reached, counted from the first without a gap, with the further ones in any order after a first step. */
export const inAnyOrderExactly = (list: readonly StepMessage[], { steps, windowMs, toleranceMs }: StepRules, known: number): number => {
  let best = known;
  for (const first of list) {
    if (!(first.bits & 1)) continue;
    let done = 1;
    const comes = (s: number): boolean =>
      list.some((m) => m !== first && m.bits & (1 << s) && isAfter(first, m, toleranceMs) && m.at - first.at <= windowMs);
    while (done < steps && comes(done)) done++;
    best = Math.max(best, done);
  }
  return best;
};
