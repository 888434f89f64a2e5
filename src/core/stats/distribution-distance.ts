/** How far two samples lie apart. */

/** The greatest distance between the distribution functions of two samples, the first one's values divided by a factor.
 *  Shape: both as counts of the same distinct values, ascending; 1 where either is empty. Units: 0..1.
 *  Source: Smirnov 1948, Ann. Math. Stat. 19 (the two-sample statistic of Kolmogorov and Smirnov).
 */
export const distributionDistance = (
  values: readonly number[],
  first: ArrayLike<number>,
  second: ArrayLike<number>,
  factor: number,
): number => {
  let n = 0;
  let m = 0;
  for (let i = 0; i < values.length; i++) {
    n += first[i]!;
    m += second[i]!;
  }
  if (n === 0 || m === 0) return 1;
  let [i, j, a, b, most] = [0, 0, 0, 0, 0];
  while (i < values.length || j < values.length) {
    const x = i < values.length ? values[i]! / factor : Infinity;
    const y = j < values.length ? values[j]! : Infinity;
    // A quotient need not come out exactly.
    const same = Number.isFinite(y) && Math.abs(x - y) <= 1e-9 * Math.abs(y);
    if (same || x < y) a += first[i++]!;
    if (same || y < x) b += second[j++]!;
    most = Math.max(most, Math.abs(a / n - b / m));
  }
  return most;
};
