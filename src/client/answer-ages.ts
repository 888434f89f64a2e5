/** Which answers are not of the newest messages, and since when: a server that is busy gives the one before, with its age. */

/** Before what is old is asked for again, in ms: as long as it is behind, within these bounds. */
const SOONEST_MS = 2000;
const LATEST_MS = 30_000;

export class AnswerAges {
  /** By what was asked: the moment of which its answer is, and when that came, in UTC epoch ms. */
  private readonly old = new Map<string, { readonly of: number; readonly came: number }>();
  private readonly listeners = new Set<() => void>();

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Notes an answer. `age`: its header of this name, in s; `null` where it has none. */
  note(asked: string, age: string | null, now: number): void {
    const before = this.oldest();
    if (age === null) this.old.delete(asked);
    else this.old.set(asked, { of: now - Number(age) * 1000, came: now });
    this.tell(before);
  }

  /** Forgets what came before a moment: all that is shown was asked for again since, and what is not shown any more need not be newer. */
  forgetBefore(moment: number): void {
    const before = this.oldest();
    for (const [asked, { came }] of this.old) if (came < moment) this.old.delete(asked);
    this.tell(before);
  }

  /** The moment of which the oldest is, in UTC epoch ms; `undefined` while all are of the newest. */
  oldest = (): number | undefined => (this.old.size === 0 ? undefined : Math.min(...[...this.old.values()].map((o) => o.of)));

  /** When to ask again, in ms from now; `undefined` while all are of the newest. */
  againIn(now: number): number | undefined {
    const oldest = this.oldest();
    return oldest === undefined ? undefined : Math.min(LATEST_MS, Math.max(SOONEST_MS, now - oldest));
  }

  private tell(before: number | undefined): void {
    if (this.oldest() !== before) for (const l of this.listeners) l();
  }
}

/** Those of this page. */
export const answerAges = new AnswerAges();
