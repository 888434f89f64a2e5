/** Robust location and spread. */

/** The median; `undefined` of nothing. Source: Hyndman and Fan 1996, definition 7 at one half. */
export const median = (values: readonly number[]): number | undefined => {
  if (values.length === 0) return undefined;
  const sorted = [...values].sort((a, b) => a - b);
  const mid = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[mid]! : (sorted[mid - 1]! + sorted[mid]!) / 2;
};

/** The median absolute deviation from the median, unscaled; `undefined` of nothing. Source: Hampel 1974, J. Am. Stat. Assoc. 69. */
export const medianDeviation = (values: readonly number[]): number | undefined => {
  const m = median(values);
  return m === undefined ? undefined : median(values.map((v) => Math.abs(v - m)));
};

/** Makes the median absolute deviation of normal values their standard deviation: 1 / Φ⁻¹(3/4). */
const TO_SIGMA = 1.482602218505602;

export interface Band {
  readonly low: number;
  readonly high: number;
  readonly median: number;
}

/** What values of the same kind let expect: median ± `width` robust standard deviations, which are never taken for less than those of
 *  counts that come by themselves (the square root of the median). `undefined` with fewer than four values.
 */
export const robustBand = (values: readonly number[], width: number): Band | undefined => {
  if (values.length < 4) return undefined;
  const m = median(values)!;
  const sigma = Math.max(TO_SIGMA * medianDeviation(values)!, Math.sqrt(Math.max(m, 1)));
  return { low: Math.max(0, m - width * sigma), high: m + width * sigma, median: m };
};
