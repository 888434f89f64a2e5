/** Lags in bins that grow by one in fifty: quantiles of any number of them in little memory. */
const GROWTH = 1.02;
const LOG_GROWTH = Math.log(GROWTH);

export class LagHistogram {
  /** Lags of less than a millisecond, or below zero. */
  private none = 0;
  private readonly bins: number[] = [];
  private count = 0;
  /** How many lags lie in a bin or before it; of the state with so many lags. */
  private upTo: { readonly count: number; readonly sums: readonly number[] } | undefined;

  /** Units: ms. */
  add(lag: number): void {
    this.count++;
    if (lag < 1) {
      this.none++;
      return;
    }
    const bin = Math.floor(Math.log(lag) / LOG_GROWTH);
    while (this.bins.length <= bin) this.bins.push(0);
    this.bins[bin]!++;
  }

  /** Which share of all lags is no longer than this, at most by one bin too much; 1 without any. Units: ms, 0..1. */
  within(ms: number): number {
    if (this.count === 0) return 1;
    const last = ms < 1 ? -1 : Math.min(this.bins.length - 1, Math.floor(Math.log(ms) / LOG_GROWTH));
    if (last < 0) return this.none / this.count;
    if (this.upTo?.count !== this.count) {
      let n = this.none;
      this.upTo = { count: this.count, sums: this.bins.map((x) => (n += x)) };
    }
    return this.upTo.sums[last]! / this.count;
  }

  /** The least bound below which a share of all lie: at most one in fifty above the true quantile; `undefined` without any.
   *  Missing values: lags below one millisecond give 0. Source: own; the rank is the ceiling of p × n.
   */
  quantile(p: number): number | undefined {
    if (this.count === 0) return undefined;
    let left = Math.max(1, Math.ceil(p * this.count)) - this.none;
    if (left <= 0) return 0;
    for (let bin = 0; bin < this.bins.length; bin++) {
      left -= this.bins[bin]!;
      if (left <= 0) return GROWTH ** (bin + 1);
    }
    return undefined;
  }
}
