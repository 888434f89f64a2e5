/** How precisely a figure is known: half its 95 % interval, and how much more it takes to know it as precisely as is asked. */
import type { Figure, FigureContext, NumberSummary } from '../questions/figure';
import type { Formula } from '../questions/formula';
import { headlineOf } from '../questions/formulas/computations';
import { select } from '../questions/select';
import { wilsonHalf, Z_95 } from '../stats/wilson';
import { DAY_MS } from '../time';
import { WANTED } from './wanted';

export interface Precision {
  readonly of: 'share' | 'amount';
  /** Half the interval: of a share in shares (0.02 are two points), of an amount relative to it. */
  readonly half: number;
  readonly wanted: number;
  readonly text: string;
  readonly wantedText: string;
  /** What it is worked out from, and how many there are. */
  readonly base: string;
  readonly n: number;
  /** How many more of the base it takes; `undefined` where that cannot be said. */
  readonly more: number | undefined;
  /** Days until they are there, at the rate of the figure's own days. */
  readonly days: number | undefined;
}

const MOST = 1e9;

/** How many trials in all make half the interval of a share no wider than asked.
 *  Source: Wilson 1927; enclosed by doubling and halving, since the interval narrows with each trial.
 */
export const trialsForWidth = (share: number, half: number): number | undefined => {
  const does = (n: number): boolean => wilsonHalf(share, n) <= half;
  let high = 1;
  while (!does(high)) {
    high *= 2;
    if (high > MOST) return undefined;
  }
  let low = Math.max(1, high / 2);
  while (low < high) {
    const middle = Math.floor((low + high) / 2);
    if (does(middle)) high = middle;
    else low = middle + 1;
  }
  return high;
};

interface Known {
  readonly of: Precision['of'];
  readonly half: number;
  readonly base: string;
  readonly n: number;
  /** How many of the base are enough for a half. */
  readonly enough: (half: number) => number | undefined;
  /** The days that the base is of. */
  readonly overDays: number | undefined;
}

const ofShare = (
  interval: { readonly low: number; readonly high: number } | undefined,
  share: number | undefined,
  n: number,
  base: string,
  overDays: number | undefined,
): Known | undefined =>
  interval === undefined || share === undefined
    ? undefined
    : { of: 'share', half: (interval.high - interval.low) / 2, base, n, enough: (half) => trialsForWidth(share, half), overDays };

/** An amount whose half goes with the root of how many it is made of. */
const ofAmount = (relative: number, n: number, base: string, overDays: number | undefined): Known => ({
  of: 'amount',
  half: relative,
  base,
  n,
  enough: (half) => Math.ceil(n * (relative / half) ** 2),
  overDays,
});

const daysOf = (p: { readonly from: number; readonly to: number } | undefined): number | undefined => p && (p.to - p.from) / DAY_MS;

/** Of values that each of so many gives: half the interval of their sum or mean, relative to it. `fixed` where how many there are is no matter of
 *  chance. Source: the normal approximation (central limit theorem); of a sum over a number that is itself random, the variance of a compound
 *  Poisson sum, n·E[x²].
 */
export const relativeHalf = (values: Iterable<number>, fixed: boolean): number | undefined => {
  let [n, sum, squares] = [0, 0, 0];
  for (const x of values) {
    n++;
    sum += x;
    squares += x * x;
  }
  if (n < 2 || sum === 0) return undefined;
  const variance = fixed ? (n / (n - 1)) * (squares - (sum * sum) / n) : squares;
  return (Z_95 * Math.sqrt(Math.max(0, variance))) / Math.abs(sum);
};

const knownOf = (figure: Figure, f: Formula, c: FigureContext): Known | undefined => {
  const { value, interval } = headlineOf(figure);
  switch (figure.type) {
    case 'conversion':
      return ofShare(interval, value, figure.steps[0]?.persons ?? 0, 'people', f.type === 'conversion' ? f.overDays : undefined);
    case 'retention':
      return ofShare(interval, value, figure.size, 'people', f.type === 'retention' ? f.overDays : undefined);
    case 'share who also did':
      return ofShare(interval, value, figure.first, 'people', f.type === 'share who also did' ? f.overDays : undefined);
    case 'rate of a value':
      return ofShare(
        interval,
        value,
        figure.total,
        figure.of === 'persons' ? 'people' : 'messages',
        f.type === 'rate of a value' ? f.overDays : undefined,
      );
    case 'active persons': {
      const n = figure.latest?.persons ?? 0;
      // So many people came by chance as a Poisson number varies.
      return n === 0 ? undefined : ofAmount(Z_95 / Math.sqrt(n), n, 'people', figure.rollingDays ?? daysOf(figure.latest));
    }
    case 'average per person': {
      const { latest } = figure;
      if (f.type !== 'average per person' || !latest || latest.persons < 2) return undefined;
      const view = select({ ...c, now: latest.to - 1 }, f.event, latest.from, true);
      const perPerson = new Map<number, number>();
      for (const p of view.person) if (p >= 0) perPerson.set(p, (perPerson.get(p) ?? 0) + 1);
      const without = Math.max(0, latest.persons - perPerson.size);
      const half = relativeHalf([...perPerson.values(), ...new Array<number>(without).fill(0)], true);
      return half === undefined ? undefined : ofAmount(half, latest.persons, 'people', daysOf(latest));
    }
    case 'total of a property': {
      const { latest } = figure;
      if (f.type !== 'total of a property' || !latest) return undefined;
      const view = select({ ...c, now: latest.to - 1 }, f.event, latest.from, true);
      const column = c.people.table.propertyOf(f.event.eventName, f.property);
      const values = Array.from(view.rows, (row) => column?.values.values[column.column.get(row)]).filter((v) => typeof v === 'number');
      const half = relativeHalf(values, false);
      return half === undefined ? undefined : ofAmount(half, (latest as NumberSummary).n, 'messages', daysOf(latest));
    }
    default:
      return undefined;
  }
};

/** How precisely a figure is known; `undefined` where its kind, or its lack of anything to count, does not let that be said. `wanted` is the question's
 *  own, as `half` is.
 */
export const precisionOf = (figure: Figure, f: Formula, c: FigureContext, wanted: number | undefined): Precision | undefined => {
  const known = knownOf(figure, f, c);
  if (!known) return undefined;
  const asked = wanted ?? WANTED[known.of].value;
  const { text } = WANTED[known.of];
  const enough = known.half <= asked ? undefined : known.enough(asked);
  const more = enough === undefined ? undefined : Math.max(1, enough - known.n);
  const perDay = known.overDays === undefined || known.overDays <= 0 ? 0 : known.n / known.overDays;
  return {
    of: known.of,
    half: known.half,
    wanted: asked,
    text: text(known.half),
    wantedText: text(asked),
    base: known.base,
    n: known.n,
    more,
    days: more === undefined || perDay === 0 ? undefined : more / perDay,
  };
};
