/** Answers that are asked for again: worked out once for all who ask while nothing has changed. */

/** An answer as bytes. */
export interface Kept {
  readonly status: number;
  readonly headers: readonly (readonly [string, string])[];
  readonly bytes: Uint8Array;
}

export interface Recalled {
  readonly answer: Promise<Kept>;
  /** How long ago it was of the newest, in ms; 0 where it is. */
  readonly age: number;
}

interface Entry {
  /** Of what it is the answer: the state, and what people said. */
  readonly of: readonly unknown[];
  /** Up to which news. */
  readonly upTo: string;
  readonly at: number;
  answer: Promise<Kept>;
  /** What it took, in ms; while it is under way, nothing. */
  took: number | undefined;
  bytes: number;
}

/** Figures move with the clock, and a process does not hear of everything that is said to another. */
const STANDS_MS = 5000;
/** What took less is worked out again as soon as anything came. */
const SLOW_MS = 300;
const MAX_BYTES = 50_000_000;

/** Shape: what is the same in `of` and `upTo` has the same answer, for a while. Where only news came since, an answer that took long means as long as it
 *  took, so that whoever asks without end has half of the time at most. An answer that failed is not kept.
 */
export class Remembered {
  private readonly entries = new Map<string, Entry>();
  private bytes = 0;

  constructor(private readonly now: () => number = () => performance.now()) {}

  answer(asked: string, of: readonly unknown[], upTo: string, work: () => Promise<Kept>): Recalled {
    const known = this.entries.get(asked);
    if (known) {
      const age = this.now() - known.at - (known.took ?? 0);
      const isOfTheSame = known.of.length === of.length && known.of.every((x, i) => x === of[i]);
      // What is under way for the same is waited for; what was worked out is kept for a while.
      if (isOfTheSame && known.upTo === upTo && (known.took === undefined || age < STANDS_MS)) return { answer: known.answer, age: 0 };
      if (isOfTheSame && (known.took ?? 0) >= SLOW_MS && age < Math.min(known.took!, STANDS_MS))
        return { answer: known.answer, age: this.now() - known.at };
    }
    this.forget(asked);
    const entry: Entry = { of, upTo, at: this.now(), took: undefined, bytes: 0, answer: work() };
    this.entries.set(asked, entry);
    entry.answer.then(
      ({ status, bytes }) => {
        entry.took = this.now() - entry.at;
        if (this.entries.get(asked) !== entry) return;
        if (status !== 200) return this.forget(asked);
        entry.bytes = bytes.length;
        this.bytes += bytes.length;
        for (const oldest of this.entries.keys()) {
          if (this.bytes <= MAX_BYTES) break;
          this.forget(oldest);
        }
      },
      () => {
        if (this.entries.get(asked) === entry) this.forget(asked);
      },
    );
    return { answer: entry.answer, age: 0 };
  }

  private forget(asked: string): void {
    this.bytes -= this.entries.get(asked)?.bytes ?? 0;
    this.entries.delete(asked);
  }
}
