/** Quantiles of values that come with counts. */

/** The quantile of a sample given as distinct values in ascending order with how often each occurs.
 *  Shape: `undefined` for an empty sample. Units: `p` 0..1.
 *  Source: Hyndman and Fan 1996, definition 7 (linear between order statistics), as PostgreSQL's percentile_cont has it.
 */
export const quantileOfCounts = (values: ArrayLike<number>, counts: ArrayLike<number>, p: number): number | undefined => {
  let n = 0;
  for (let i = 0; i < counts.length; i++) n += counts[i]!;
  if (n === 0) return undefined;
  const h = (n - 1) * p;
  const below = Math.floor(h);
  let seen = 0;
  for (let i = 0; i < values.length; i++) {
    seen += counts[i]!;
    if (seen <= below) continue;
    const low = values[i]!;
    if (seen > below + 1 || below + 1 >= n) return low;
    let j = i + 1;
    while (counts[j] === 0) j++;
    return low + (h - below) * (values[j]! - low);
  }
  return undefined;
};
