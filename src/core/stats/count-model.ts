/** Daily counts: what the days before let expect of a day. */

/** A prediction for one day. */
export interface ExpectedCount {
  /** Expected messages, at the level of the end of the stretch. */
  readonly mean: number;
  /** The same if growth goes on as it was: what happens to it after the stretch is not known, so that no count between the two is off. */
  readonly grown: number;
  /** Variance of what comes over the mean: 1 where it comes on its own (Poisson), more where days differ of their own accord. */
  readonly dispersion: number;
  /** How well the mean is known: the variance of its logarithm, as a part of `dispersion`. */
  readonly leverage: number;
  /** The dispersion as the days show it, below 1 where they differ less than by chance. */
  readonly scatter: number;
  /** Days that the dispersion is known from, beyond those that the coefficients use up. */
  readonly free: number;
}

/** A model of daily counts, fitted on a stretch of days. */
export interface CountModel {
  /** The prediction for a day, counted from the first of the stretch; days after it go on with the level of its end. */
  readonly expect: (day: number) => ExpectedCount;
}

const ROUNDS = 8;
const WEEK = 7;
/** A weekday that came twice is as likely a day that was odd. */
const WEEKDAYS_FROM = 28;
/** A day counts half as much as one so many days later: the level is that of late, and growth need not go on as it began. */
const HALF_LIFE = 21;
/** Fewer days than this say nothing. */
export const MIN_DAYS = 14;
/** Residuals beyond so many standard deviations are left out of the second fit: a bad day must not hide the next. */
const OUTLYING = 4;

/** The lower triangle of a symmetric positive matrix's Cholesky factor; `undefined` where it is not positive. */
const cholesky = (a: readonly Float64Array[]): Float64Array[] | undefined => {
  const n = a.length;
  const l = Array.from({ length: n }, () => new Float64Array(n));
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      let s = a[i]![j]!;
      for (let k = 0; k < j; k++) s -= l[i]![k]! * l[j]![k]!;
      if (i === j) {
        if (!(s > 1e-12)) return undefined;
        l[i]![i] = Math.sqrt(s);
      } else l[i]![j] = s / l[j]![j]!;
    }
  return l;
};

const solve = (l: readonly Float64Array[], b: ArrayLike<number>): Float64Array => {
  const n = l.length;
  const x = Float64Array.from(b);
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < i; k++) x[i]! -= l[i]![k]! * x[k]!;
    x[i]! /= l[i]![i]!;
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let k = i + 1; k < n; k++) x[i]! -= l[k]![i]! * x[k]!;
    x[i]! /= l[i]![i]!;
  }
  return x;
};

/** What the logarithm of the mean is made of: level, weekday against the first of the stretch, growth. */
const rowOf = (day: number, days: number, weekdays: boolean): Float64Array => {
  const x = new Float64Array(2 + (weekdays ? WEEK - 1 : 0));
  x[0] = 1;
  const weekday = ((day % WEEK) + WEEK) % WEEK;
  if (weekdays && weekday > 0) x[weekday] = 1;
  // Growth is not carried beyond the stretch: over a gap of days it would run away.
  x[x.length - 1] = (Math.min(day, days - 1) - (days - 1) / 2) / days;
  return x;
};

/** So far growth may go on: as far as days are looked at together. */
const GROWS_DAYS = 14;

/** A small weight on every coefficient but the level keeps a weekday without a message from running to minus infinity. */
const RIDGE = 0.05;

interface Fit {
  readonly beta: Float64Array;
  readonly factor: readonly Float64Array[];
}

/** Weighted maximum likelihood by iteratively reweighted least squares. */
const fit = (x: readonly Float64Array[], y: ArrayLike<number>, weight: ArrayLike<number>): Fit | undefined => {
  const p = x[0]!.length;
  let total = 0;
  let n = 0;
  for (let i = 0; i < x.length; i++)
    if (weight[i]! > 0) {
      total += y[i]!;
      n++;
    }
  if (n < MIN_DAYS || total === 0) return undefined;
  let beta: Float64Array = new Float64Array(p);
  beta[0] = Math.log(total / n);
  let factor: Float64Array[] | undefined;
  for (let round = 0; round < ROUNDS; round++) {
    const a = Array.from({ length: p }, () => new Float64Array(p));
    const b = new Float64Array(p);
    for (let i = 0; i < x.length; i++) {
      const w = weight[i]!;
      if (w === 0) continue;
      const row = x[i]!;
      let eta = 0;
      for (let k = 0; k < p; k++) eta += row[k]! * beta[k]!;
      const mu = Math.exp(Math.min(eta, 30));
      const z = eta + (y[i]! - mu) / mu;
      for (let j = 0; j < p; j++) {
        if (row[j] === 0) continue;
        b[j]! += w * mu * row[j]! * z;
        for (let k = 0; k <= j; k++) a[j]![k]! += w * mu * row[j]! * row[k]!;
      }
    }
    for (let j = 0; j < p; j++) {
      a[j]![j]! += j === 0 ? 1e-9 : RIDGE;
      for (let k = j + 1; k < p; k++) a[j]![k] = a[k]![j]!;
    }
    factor = cholesky(a);
    if (!factor) return undefined;
    const next = solve(factor, b);
    let moved = 0;
    for (let k = 0; k < p; k++) moved = Math.max(moved, Math.abs(next[k]! - beta[k]!));
    beta = next;
    if (moved < 1e-8) break;
  }
  return { beta, factor: factor! };
};

/** A log-linear model of daily counts: level, weekday, growth, with more variance than Poisson's where the days show it.
 *  Shape: `counts` of whole days one after the other, the first of any weekday; `used` says which count (1 or 0). Weekdays are told apart from
 *  three weeks on; of late counts more than long ago. `undefined` for fewer than fourteen days, and where nothing arrived.
 *  Method: Poisson regression by iteratively reweighted least squares, once more without what lies far off; dispersion from the
 *  Pearson residuals of what is left, never below 1. Source: McCullagh and Nelder 1989, Generalized Linear Models, chapters 6 and 9.
 */
export const countModel = (counts: ArrayLike<number>, used?: ArrayLike<number>): CountModel | undefined => {
  const days = counts.length;
  if (days < MIN_DAYS) return undefined;
  const weekdays = days >= WEEKDAYS_FROM;
  const x = Array.from({ length: days }, (_, d) => rowOf(d, days, weekdays));
  const keep = Float64Array.from({ length: days }, (_, d) => (used === undefined || used[d] ? 0.5 ** ((days - 1 - d) / HALF_LIFE) : 0));
  let found = fit(x, counts, keep);
  if (!found) return undefined;
  const meanOf = (row: Float64Array): number => {
    let eta = 0;
    for (let k = 0; k < row.length; k++) eta += row[k]! * found!.beta[k]!;
    return Math.exp(Math.min(eta, 30));
  };
  const residual = (d: number): number => {
    const mu = meanOf(x[d]!);
    return (counts[d]! - mu) / Math.sqrt(mu);
  };
  const sizes = Array.from({ length: days }, (_, d) => d)
    .filter((d) => keep[d])
    .map((d) => Math.abs(residual(d)))
    .sort((a, b) => a - b);
  // A robust scale: the median of absolute residuals, as a normal standard deviation.
  const scale = Math.max(1, 1.4826 * (sizes[sizes.length >> 1] ?? 1));
  let left = 0;
  for (let d = 0; d < days; d++) if (keep[d] && Math.abs(residual(d)) > OUTLYING * scale) left++;
  if (left > 0 && left <= days / 5) {
    for (let d = 0; d < days; d++) if (keep[d] && Math.abs(residual(d)) > OUTLYING * scale) keep[d] = 0;
    found = fit(x, counts, keep) ?? found;
  }
  let squares = 0;
  let weights = 0;
  let n = 0;
  for (let d = 0; d < days; d++)
    if (keep[d]! > 0) {
      squares += keep[d]! * residual(d) ** 2;
      weights += keep[d]!;
      n++;
    }
  // Of n days as many are free as are not used up by coefficients.
  const free = Math.max(1, n - found.beta.length);
  const scatter = (squares / weights) * (n / free);
  const dispersion = Math.max(1, scatter);
  const { factor } = found;
  return {
    expect: (day) => {
      const row = rowOf(day, days, weekdays);
      const h = solve(factor, row);
      let leverage = 0;
      for (let k = 0; k < row.length; k++) leverage += row[k]! * h[k]!;
      const mean = meanOf(row);
      const beyond = Math.min(GROWS_DAYS, Math.max(0, day - (days - 1)));
      const growth = found.beta[row.length - 1]! / days;
      return { mean, grown: mean * Math.exp(growth * beyond), dispersion, scatter, leverage, free };
    },
  };
};

/** The end of what is expected that lies next to a count: the count itself where it lies within. */
export const nearestExpected = (count: number, { mean, grown }: ExpectedCount): number =>
  Math.min(Math.max(count, Math.min(mean, grown)), Math.max(mean, grown));

/** How many standard deviations a count lies from what was expected, on the scale of square roots, where counts vary evenly; 0 where growth that
 *  goes on, or ends, explains it.
 *  Shape: several days are given as one, with their sums. Source: Anscombe 1948, Biometrika 35.
 */
export const deviationOf = (count: number, e: ExpectedCount): number => {
  const expected = nearestExpected(count, e);
  return (2 * (Math.sqrt(count + 0.375) - Math.sqrt(expected + 0.375))) / Math.sqrt(e.dispersion * (1 + expected * e.leverage));
};

/** Several days as one. The level is what they share, so its uncertainty does not average out. */
export const together = (days: readonly ExpectedCount[]): ExpectedCount => {
  const mean = days.reduce((n, d) => n + d.mean, 0);
  const weighted = (f: (d: ExpectedCount) => number): number => (mean === 0 ? 0 : days.reduce((n, d) => n + f(d) * d.mean, 0) / mean);
  return {
    mean,
    grown: days.reduce((n, d) => n + d.grown, 0),
    dispersion: weighted((d) => d.dispersion),
    leverage: weighted((d) => d.leverage),
    scatter: weighted((d) => d.scatter),
    free: Math.min(...days.map((d) => d.free)),
  };
};

/** The counts between which a day is not far off: `width` standard deviations about the expected one. */
export const bandOf = (e: ExpectedCount, width: number): { readonly low: number; readonly high: number; readonly usual: number } => {
  const [least, most] = [Math.min(e.mean, e.grown), Math.max(e.mean, e.grown)];
  const half = (mean: number): number => (width * Math.sqrt(e.dispersion * (1 + mean * e.leverage))) / 2;
  const root = (mean: number): number => Math.sqrt(mean + 0.375);
  return {
    low: Math.max(0, Math.max(0, root(least) - half(least)) ** 2 - 0.375),
    high: (root(most) + half(most)) ** 2 - 0.375,
    usual: e.mean,
  };
};

/** The dispersion that few days cannot rule out: the upper end of a one-sided 84 % interval (one standard deviation), and never below Poisson's.
 *  Source: Wilson and Hilferty 1931, PNAS 17, the cube root of a chi-squared variable as normal.
 */
const dispersionAtMost = ({ scatter, free }: ExpectedCount): number => {
  const v = 2 / (9 * free);
  // The quantile over its degrees of freedom; below three of them it runs to nothing.
  return Math.max(1, scatter / Math.max(0.1, 1 - v - Math.sqrt(v)) ** 3);
};

/** The chance of no message at all where so many were expected: e to the minus of them, less surprising where days differ of their own accord.
 *  Source: the Poisson distribution, its mean scaled down by the dispersion (quasi-likelihood), the dispersion as large as the days leave
 *  open and the mean a standard deviation lower than estimated.
 */
export const chanceOfNone = (e: ExpectedCount): number =>
  Math.exp((-Math.min(e.mean, e.grown) * Math.exp(-Math.sqrt(e.dispersion * e.leverage))) / dispersionAtMost(e));

/** The chance that of `came` messages, at one rate through `days` days and `empty` more, none falls on the `empty` ones. What a model makes of a few
 *  messages, growth above all, is not known well enough to be judged by; this is exact.
 *  Source: the conditional test of two Poisson means, Przyborowski and Wilenski 1940, Biometrika 31.
 */
export const chanceOfNoneAtOneRate = (came: number, days: number, empty: number): number => (days / (days + empty)) ** came;
