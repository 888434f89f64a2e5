/** What the checks of the intake's answers share. */
import type { ManyFound } from '../check-many';
import { DAY_MS } from '../../time';
import type { IntakeDay } from '../intake-totals';

/** One kind of answer of a source, added up over its days. */
export class IntakeSum {
  count = 0;
  of = 0;
  private readonly perDay = new Map<number, number>();
  private constructor(private readonly sourceId: string) {}

  /** Sources in the order of their first day. */
  static bySource(days: readonly IntakeDay[], part: (d: IntakeDay) => number): Iterable<IntakeSum> {
    const sums = new Map<string, IntakeSum>();
    for (const d of days) {
      let sum = sums.get(d.sourceId);
      if (!sum) sums.set(d.sourceId, (sum = new IntakeSum(d.sourceId)));
      sum.count += part(d);
      sum.of += d.accepted + d.duplicates + d.rejected;
      if (part(d) > 0) sum.perDay.set(d.day, (sum.perDay.get(d.day) ?? 0) + part(d));
    }
    return sums.values();
  }

  /** What a finding says of it. No message means it in the columns. */
  found(now: number): Omit<ManyFound<unknown>, 'params'> {
    const days = [...this.perDay.keys()];
    return {
      eventName: '',
      field: '',
      sourceId: this.sourceId,
      releases: [],
      count: this.count,
      outOf: this.of,
      firstAt: Math.min(...days) * DAY_MS,
      lastAt: Math.min(now, (Math.max(...days) + 1) * DAY_MS - 1),
      rows: [],
      perDay: this.perDay,
    };
  }
}
