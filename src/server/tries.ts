/** How often somebody was wrong lately, by address. Kept by each process for itself: it protects the process, and nobody's data depends on it. */
import { MINUTE_MS } from '../core/time';

const MAX_KNOWN = 10_000;

export class Tries {
  private minute = 0;
  private counts = new Map<string, number>();

  /** `most` tries a minute are let through. */
  constructor(private readonly max: number) {}

  private turn(now: number): void {
    const minute = Math.floor(now / MINUTE_MS);
    if (minute === this.minute && this.counts.size < MAX_KNOWN) return;
    this.minute = minute;
    this.counts = new Map();
  }

  count(who: string, now = Date.now()): void {
    this.turn(now);
    this.counts.set(who, (this.counts.get(who) ?? 0) + 1);
  }

  /** Seconds that somebody has to wait; 0 for none. */
  waitOf(who: string, now = Date.now()): number {
    this.turn(now);
    return (this.counts.get(who) ?? 0) < this.max ? 0 : Math.ceil((MINUTE_MS - (now % MINUTE_MS)) / 1000);
  }
}
