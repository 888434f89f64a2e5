/** Standard normal quantile for a two-sided 95 % interval. */
export const Z_95 = 1.959963984540054;

export interface Interval {
  readonly low: number;
  readonly high: number;
}

/** The Wilson score interval of a share, without continuity correction.
 *  Shape: `undefined` when there are no trials, since a share is undefined then.
 *  Units: shares 0..1.
 *  Errors: throws when hits is not within 0..trials.
 *  Source: Wilson 1927, J. Am. Stat. Assoc. 22; method 3 in Newcombe 1998, Stat. Med. 17.
 */
export const wilson = (hits: number, trials: number, z: number = Z_95): Interval | undefined => {
  if (hits < 0 || hits > trials) throw new RangeError(`hits ${hits} not within 0..${trials}`);
  if (trials === 0) return undefined;
  const p = hits / trials;
  const z2 = z * z;
  const centre = p + z2 / (2 * trials);
  const half = z * Math.sqrt((p * (1 - p)) / trials + z2 / (4 * trials * trials));
  const scale = 1 + z2 / trials;
  return { low: hits === 0 ? 0 : Math.max(0, (centre - half) / scale), high: hits === trials ? 1 : Math.min(1, (centre + half) / scale) };
};

/** Half the width of the interval for a share that need not be of whole hits: it narrows with each trial. Source: as above. */
export const wilsonHalf = (share: number, trials: number, z: number = Z_95): number => {
  const z2 = z * z;
  return (z * Math.sqrt((share * (1 - share)) / trials + z2 / (4 * trials * trials))) / (1 + z2 / trials);
};

/** How many trials it takes, at least, until the lower bound reaches a share, where no more than these miss.
 *  Shape: `undefined` where no number does, as for a share of 1. Units: share 0..1.
 *  Method: the bound grows with each hit, so the number is enclosed by doubling and halving. Source: own definition over the interval above.
 */
export const trialsFor = (misses: number, share: number, z: number = Z_95): number | undefined => {
  if (share >= 1) return undefined;
  const does = (trials: number): boolean => wilson(trials - misses, trials, z)!.low >= share;
  let high = Math.max(1, misses);
  while (!does(high)) high *= 2;
  let low = Math.max(1, misses);
  while (low < high) {
    const middle = Math.floor((low + high) / 2);
    if (does(middle)) high = middle;
    else low = middle + 1;
  }
  return high;
};
