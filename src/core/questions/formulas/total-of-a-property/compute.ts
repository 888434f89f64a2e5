/** How the figure of “total of a property” is worked out, and which of its numbers leads. */
import { quantileOfCounts } from '../../../stats/quantile';
import { periodsBetween } from '../../calendar';
import type { FigureContext, FigureOf, NumberSummary, TotalPoint } from '../../figure';
import { type TotalOfProperty } from '../../formula';
import { cuts, firstTime, outsideOf, select, unattributedIn, valuesIn } from '../../select';
import type { FormulaComputation } from '../../definition';

const NOTHING: NumberSummary = { n: 0, sum: undefined, mean: undefined, median: undefined, p95: undefined };

const summary = (values: ArrayLike<number>, counts: ArrayLike<number>): NumberSummary => {
  let n = 0;
  let sum = 0;
  for (let i = 0; i < values.length; i++) {
    n += counts[i]!;
    sum += values[i]! * counts[i]!;
  }
  return n === 0
    ? NOTHING
    : { n, sum, mean: sum / n, median: quantileOfCounts(values, counts, 0.5), p95: quantileOfCounts(values, counts, 0.95) };
};

/** Sum, mean, median and 95th percentile of a numeric property, per calendar period and over all.
 *  Shape: one point for each period from the first message to now. Units: those of the property.
 *  Missing values: a value that is absent or not a number is left out and counted as `notANumber`.
 *  Source: quantiles by stats/quantile (Hyndman and Fan, definition 7).
 */
const compute = (f: TotalOfProperty, c: FigureContext): FigureOf<'total of a property'> => {
  const own = select(c, f.event);
  const { rows } = own;
  const first = firstTime(c, [own]);
  const column = c.people.table.propertyOf(f.event.eventName, f.property);
  const unattributed = unattributedIn(own);
  if (first === undefined)
    return {
      type: 'total of a property',
      points: [],
      latest: undefined,
      all: NOTHING,
      notANumber: rows.length,
      unattributed,
      outside: outsideOf(c, [own], -Infinity),
    };
  // Distinct numbers in ascending order, and for each value of the column its place among them.
  const dictionary = column?.values.values ?? [];
  const numeric = dictionary
    .flatMap((v, i) => (typeof v === 'number' ? [i] : []))
    .sort((a, b) => (dictionary[a] as number) - (dictionary[b] as number));
  const values = Float64Array.from(numeric, (i) => dictionary[i] as number);
  const place = new Int32Array(dictionary.length).fill(-1);
  numeric.forEach((i, at) => (place[i] = at));
  const { timeZone, weekStartsOn } = c.settings;
  const periods = periodsBetween(f.period, first, c.now, timeZone, weekStartsOn);
  const all = new Float64Array(values.length);
  const given = valuesIn(c, own, f.property) ?? new Int32Array(rows.length).fill(-1);
  let notANumber = 0;
  const perPeriod = cuts(own, periods.starts);
  const summaries = Array.from({ length: periods.count }, (_, k): NumberSummary => {
    const counts = new Float64Array(values.length);
    for (let i = perPeriod[k]!; i < perPeriod[k + 1]!; i++) {
      const v = given[i]!;
      const at = v < 0 ? -1 : place[v]!;
      if (at < 0) notANumber++;
      else counts[at]!++;
    }
    for (let i = 0; i < counts.length; i++) all[i]! += counts[i]!;
    return summary(values, counts);
  });
  const points = summaries.map((s, k): TotalPoint => ({ ...periods.span(k, c.now), ...s }));
  return {
    type: 'total of a property',
    points,
    latest: points.findLast((p) => p.complete),
    all: summary(values, all),
    notANumber,
    unattributed,
    outside: outsideOf(c, [own], periods.starts[0]!),
  };
};

export const totalOfPropertyComputation: FormulaComputation<'total of a property'> = {
  type: 'total of a property',
  compute,
  headline: (f) => ({ value: f.latest?.sum, interval: undefined }),
};
