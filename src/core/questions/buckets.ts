/** Buckets of a number: proposed from the data, counted, named. A value belongs to the first bucket whose upper bound it does not exceed. */
import type { Scalar } from '../table/message-table';

export const BUCKET_WAYS = ['equal shares', 'round limits'] as const;
export type BucketWay = (typeof BUCKET_WAYS)[number];

export interface Weighted {
  readonly value: number;
  /** How often it occurs, such as the persons who have it. */
  readonly weight: number;
}

export interface Bucket {
  readonly label: string;
  /** Greatest value; `undefined` for the last one, which has no end. */
  readonly upTo: number | undefined;
  readonly weight: number;
}

/** Mantissas of round limits, common practice; no source. */
const ROUND = [1, 2, 5];

/** Each value once, ascending. */
const sorted = (values: readonly Weighted[]): Weighted[] => {
  const weights = new Map<number, number>();
  for (const { value, weight } of values) if (Number.isFinite(value) && weight > 0) weights.set(value, (weights.get(value) ?? 0) + weight);
  return [...weights].map(([value, weight]) => ({ value, weight })).sort((a, b) => a.value - b.value);
};

/** Bounds that cut off as equal shares as whole values allow: each is the least value up to which k of n shares lie. */
const equalShares = (values: readonly Weighted[], buckets: number): number[] => {
  const total = values.reduce((n, v) => n + v.weight, 0);
  const bounds: number[] = [];
  let sum = 0;
  let k = 1;
  for (const { value, weight } of values) {
    sum += weight;
    if (sum < (k * total) / buckets || k >= buckets) continue;
    bounds.push(value);
    while (k < buckets && sum >= (k * total) / buckets) k++;
  }
  // Nothing lies beyond the greatest value.
  return bounds.filter((b) => b < values.at(-1)!.value);
};

/** 1, 2, 5, 10, 20, 50 … within the values; of more than asked for, those that cut the weight most evenly are kept. */
const roundLimits = (values: readonly Weighted[], buckets: number): number[] => {
  const [min, greatest] = [values[0]!.value, values.at(-1)!.value];
  const all: number[] = [];
  const magnitude = Math.ceil(Math.log10(Math.max(1, Math.abs(greatest), Math.abs(min)))) + 1;
  const smallest = values.every((v) => Number.isInteger(v.value)) ? 0 : -3;
  for (let e = smallest; e <= magnitude; e++)
    for (const m of ROUND) {
      const limit = Number((m * 10 ** e).toPrecision(3));
      for (const b of [limit, -limit]) if (b >= min && b < greatest) all.push(b);
    }
  if (min <= 0 && greatest > 0) all.push(0);
  const bounds = [...new Set(all)].sort((a, b) => a - b);
  // The bound whose removal joins the two lightest neighbours goes first.
  while (bounds.length > buckets - 1) {
    const weights = countBuckets(bounds, values).map((b) => b.weight);
    let lightest = 0;
    for (let i = 1; i < bounds.length; i++) if (weights[i]! + weights[i + 1]! < weights[lightest]! + weights[lightest + 1]!) lightest = i;
    bounds.splice(lightest, 1);
  }
  return bounds;
};

/** Upper bounds of at most `buckets` buckets, ascending; none where all values are the same or there are none. */
export const proposeBounds = (values: readonly Weighted[], way: BucketWay, buckets: number): number[] => {
  const usable = sorted(values);
  if (buckets < 2 || usable.length === 0 || usable[0]!.value === usable.at(-1)!.value) return [];
  return way === 'equal shares' ? equalShares(usable, buckets) : roundLimits(usable, buckets);
};

/** Index of the bucket of a value; as many as there are bounds for what exceeds all. */
export const bucketOf = (bounds: readonly number[], value: number): number => {
  let lo = 0;
  let hi = bounds.length;
  while (lo < hi) {
    const mid = (lo + hi) >> 1;
    if (value <= bounds[mid]!) hi = mid;
    else lo = mid + 1;
  }
  return lo;
};

/** What a bucket is called. */
export const bucketLabel = (bounds: readonly number[], i: number): string => {
  if (i === bounds.length) return `more than ${bounds.at(-1)}`;
  const [below, upTo] = [bounds[i - 1], bounds[i]!];
  return below === undefined ? `up to ${upTo}` : below + 1 === upTo ? `${upTo}` : `more than ${below}, up to ${upTo}`;
};

/** The buckets that these bounds make, each with the weight in it. Shape: one more than bounds. */
export const countBuckets = (bounds: readonly number[], values: readonly Weighted[]): Bucket[] => {
  const weights = new Array<number>(bounds.length + 1).fill(0);
  for (const { value, weight } of values) weights[bucketOf(bounds, value)]! += weight;
  return weights.map((weight, i) => ({ label: bucketLabel(bounds, i), upTo: bounds[i], weight }));
};

/** Values of a property turned into the names of their buckets.
 *  Shape: for the index of each value the index of its name, and the names; what is no number keeps its own.
 */
export const bucketed = (
  values: readonly Scalar[],
  bounds: readonly number[],
): { readonly of: Int32Array; readonly names: readonly Scalar[] } => {
  const names: Scalar[] = [...bounds, 0].map((_, i) => bucketLabel(bounds, i));
  const others = new Map<Scalar, number>();
  const of = Int32Array.from(values, (v) => {
    if (typeof v === 'number') return bucketOf(bounds, v);
    let at = others.get(v);
    if (at === undefined) others.set(v, (at = names.push(v) - 1));
    return at;
  });
  return { of, names };
};
