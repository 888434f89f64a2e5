/** Samples as counts of distinct values, and how far one is a mixture of another with its own multiple. */

/** Values ascending, each with how often it occurs. */
export interface Sample {
  readonly values: readonly number[];
  readonly counts: ArrayLike<number>;
  readonly size: number;
}

export const sampleOf = (weights: ReadonlyMap<number, number>): Sample => {
  const values = [...weights.keys()].sort((a, b) => a - b);
  const counts = Float64Array.from(values, (v) => weights.get(v)!);
  return { values, counts, size: counts.reduce((n, x) => n + x, 0) };
};

export const pooled = (samples: readonly Sample[]): Sample => {
  const weights = new Map<number, number>();
  for (const s of samples) s.values.forEach((v, i) => weights.set(v, (weights.get(v) ?? 0) + s.counts[i]!));
  return sampleOf(weights);
};

/** The least value below or at which a share lies; `undefined` for an empty sample. */
export const quantileIn = ({ values, counts, size }: Sample, p: number): number | undefined => {
  let seen = 0;
  for (let i = 0; i < values.length; i++) {
    seen += counts[i]!;
    if (seen >= p * size) return values[i];
  }
  return values.at(-1);
};

/** Share of a sample between two bounds, both included, its values divided by `factor` first. */
export const shareWithin = ({ values, counts, size }: Sample, low: number, high: number, factor = 1): number => {
  let n = 0;
  for (let i = 0; i < values.length; i++) {
    const v = values[i]! / factor;
    if (v >= low - Math.abs(low) * 1e-9 && v <= high + Math.abs(high) * 1e-9) n += counts[i]!;
  }
  return size === 0 ? 0 : n / size;
};

/** The distribution function of a sample whose values are multiplied by `factor`, at given points, ascending. */
const distribution = ({ values, counts, size }: Sample, factor: number, points: readonly number[]): Float64Array => {
  const out = new Float64Array(points.length);
  let [i, seen] = [0, 0];
  for (let k = 0; k < points.length; k++) {
    // A product need not come out exactly.
    const limit = points[k]! + Math.abs(points[k]!) * 1e-9;
    while (i < values.length && values[i]! * factor <= limit) seen += counts[i++]!;
    out[k] = seen / size;
  }
  return out;
};

export interface Mixture {
  /** Share that is the multiple, 0..1. */
  readonly share: number;
  /** Greatest distance between the sample and the mixture. */
  readonly distance: number;
  /** Greatest distance between the sample and the reference as it is. */
  readonly apart: number;
}

const ROUNDS = 40;

/** The share of a sample that is best explained as `factor` times the reference, the rest being as the reference.
 *  Method: the share for which the greatest distance of the distribution functions is least; it is convex in the share, so a ternary search
 *  finds it. Source of the distance: Smirnov 1948, Ann. Math. Stat. 19.
 */
export const mixtureOf = (sample: Sample, reference: Sample, factor: number): Mixture => {
  const points = [...new Set([...sample.values, ...reference.values, ...reference.values.map((v) => v * factor)])].sort((a, b) => a - b);
  const own = distribution(sample, 1, points);
  const plain = distribution(reference, 1, points);
  const times = distribution(reference, factor, points);
  const distanceAt = (p: number): number => {
    let max = 0;
    for (let k = 0; k < points.length; k++) max = Math.max(max, Math.abs(own[k]! - ((1 - p) * plain[k]! + p * times[k]!)));
    return max;
  };
  let [lo, hi] = [0, 1];
  for (let i = 0; i < ROUNDS; i++) {
    const [a, b] = [lo + (hi - lo) / 3, hi - (hi - lo) / 3];
    if (distanceAt(a) <= distanceAt(b)) hi = b;
    else lo = a;
  }
  const share = (lo + hi) / 2;
  return { share, distance: distanceAt(share), apart: distanceAt(0) };
};

/** Distance of two samples that one in a hundred pairs of the same exceeds. Source: Smirnov 1948, the one-per-cent point 1.63. */
export const chanceDistance = (n: number, m: number): number => 1.63 * Math.sqrt((n + m) / (n * m));
