/** Two sets as circles with true areas. */

export interface Euler {
  /** Radii and the distance of the centres, in the unit of the square root of a member. */
  readonly a: number;
  readonly b: number;
  readonly distance: number;
}

/** The area that two circles share.
 *  Shape: radii and distance of the centres, not negative. Source: E. W. Weisstein, "Circle-Circle Intersection", eq. 14.
 */
export const lensArea = (a: number, b: number, d: number): number => {
  if (d >= a + b) return 0;
  const small = Math.min(a, b);
  if (d <= Math.abs(a - b)) return Math.PI * small * small;
  const alpha = Math.acos((d * d + a * a - b * b) / (2 * d * a));
  const beta = Math.acos((d * d + b * b - a * a) / (2 * d * b));
  const kite = 0.5 * Math.sqrt((-d + a + b) * (d + a - b) * (d - a + b) * (d + a + b));
  return a * a * alpha + b * b * beta - kite;
};

const STEPS = 60;

/** Circles whose areas are the sizes of two sets and whose common area is the size of what both have.
 *  Errors: throws a RangeError when the common part is larger than a set. Method: bisection on the distance, since the common area falls
 *  as the centres part.
 */
export const eulerOf = (sizeA: number, sizeB: number, both: number): Euler => {
  if (both > Math.min(sizeA, sizeB) || both < 0) throw new RangeError(`${both} in both, of ${sizeA} and ${sizeB}`);
  const [a, b] = [Math.sqrt(sizeA / Math.PI), Math.sqrt(sizeB / Math.PI)];
  if (both === 0) return { a, b, distance: a + b };
  let [low, high] = [Math.abs(a - b), a + b];
  if (both === Math.min(sizeA, sizeB)) return { a, b, distance: low };
  for (let i = 0; i < STEPS; i++) {
    const mid = (low + high) / 2;
    if (lensArea(a, b, mid) > both) low = mid;
    else high = mid;
  }
  return { a, b, distance: (low + high) / 2 };
};
