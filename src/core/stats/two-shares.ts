/** How many standard deviations the first share lies above the second: the pooled test of two proportions, without continuity correction.
 *  Shape: hits of trials, twice; 0 where there are no trials on a side, or all hit, or none.
 *  Source: Fleiss, Levin and Paik 2003, Statistical Methods for Rates and Proportions, section 3.1 (its square is Pearson's chi-squared of the
 *  two-by-two table).
 */
export const deviationsApart = (hitsA: number, trialsA: number, hitsB: number, trialsB: number): number => {
  if (trialsA === 0 || trialsB === 0) return 0;
  const pooled = (hitsA + hitsB) / (trialsA + trialsB);
  const variance = pooled * (1 - pooled) * (1 / trialsA + 1 / trialsB);
  return variance === 0 ? 0 : (hitsA / trialsA - hitsB / trialsB) / Math.sqrt(variance);
};
