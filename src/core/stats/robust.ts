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
