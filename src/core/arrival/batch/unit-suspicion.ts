import { entries, propertiesOf } from '../../plan/plan';
import { isNumeric } from '../../plan/property-type';
import { distributionDistance } from '../../stats/distribution-distance';
import { following } from '../../table/following';
import { Cause, defineManyCheck, type ManyFound } from '../check-many';

export interface UnitSuspicion {
  readonly eventName: string;
  readonly property: string;
  readonly unit: string;
  /** How many times the values of the others the values are. */
  readonly factor: number;
  /** What such a factor mostly is. */
  readonly reading: string;
  /** Only some of its values are. */
  readonly part: boolean;
}

/** Factors between units that are taken for one another. */
const FACTORS: readonly (readonly [number, string])[] = [
  [60, 'seconds for minutes, or minutes for hours'],
  [3600, 'seconds for hours'],
  [24, 'hours for days'],
  [86_400, 'seconds for days'],
  [1440, 'minutes for days'],
  [7, 'days for weeks'],
  [100, 'hundredths: minor units of a currency, per cent, or centimetres'],
  [1000, 'thousandths: milliseconds, grams or metres'],
  [1.609344, 'kilometres for miles'],
  [2.20462262, 'pounds for kilograms'],
  [3.2808399, 'feet for metres'],
];
/** Converted, they must lie as those of the others do: the distance that one in a hundred pairs of samples of the same exceeds. */
const MOST_APART = 1.63;
const MOST_APART_EVER = 0.25;

/** The numbers that a release of a source sent, by their index in the column, with how often. */
interface Sent {
  readonly source: number;
  readonly release: number;
  readonly sent: Map<number, number>;
}

/** By the index of the event's name; the key is the property's name. */
const sentOf = following(
  () => new Map<number, Map<string, Sent>>(),
  (state, table, from, to, key) => {
    const { column, values } = table.properties.get(key)!;
    for (let row = from; row < to; row++) {
      const v = column.get(row);
      const name = table.name.get(row);
      if (v < 0 || name < 0 || typeof values.values[v] !== 'number') continue;
      let groups = state.get(name);
      if (!groups) state.set(name, (groups = new Map()));
      const source = table.source.get(row);
      const release = table.release.get(row);
      const group = `${source} ${release}`;
      let own = groups.get(group);
      if (!own) groups.set(group, (own = { source, release, sent: new Map() }));
      own.sent.set(v, (own.sent.get(v) ?? 0) + 1);
    }
  },
);

export const unitSuspicion = defineManyCheck({
  id: 'unit-suspicion',
  on: 'many',
  title: 'Another unit, it seems',
  why: 'Sums and averages over sources mix two units, and no single value looks wrong.',
  severity: 'stop',
  parameters: {
    least: {
      title: 'Values of a release, and of the others, that it takes to judge',
      unit: 'values',
      value: 20,
      least: 5,
      most: 1000000,
      whole: true,
    },
    apart: { title: 'Share of values that must lie elsewhere than those of the others', unit: '%', value: 50, least: 5, most: 100 },
  },
  mender: () => 'source',
  expected: (p: UnitSuspicion) => (p.unit === '' ? 'values as the others send them' : `values in ${p.unit}`),
  received: (p: UnitSuspicion) => `about ${factorText(p.factor)} them: ${p.reading}`,
  message: (p: UnitSuspicion) =>
    `${p.part ? 'sometimes sends' : 'sends'} \`${p.property}\` about ${factorText(p.factor)} what the others send: ${p.reading}${p.unit === '' ? '' : `, where the plan says ${p.unit}`}`,
  cause: (p: UnitSuspicion) =>
    p.part
      ? 'Somewhere in a release it is measured in another unit than the plan asks for.'
      : 'A release measures in another unit than the plan asks for.',
  mend: (p: UnitSuspicion) => `Convert \`${p.property}\`${p.unit === '' ? '' : ` to ${p.unit}`} before sending.`,
  /** For each numeric property of an event: the values of a release of a source against those of all other messages, as they are and
   *  divided by each factor, by the two-sample statistic of Kolmogorov and Smirnov. Source: Smirnov 1948, Ann. Math. Stat. 19, for the
   *  bound 1.63 √((n + m) / nm) of the one-per-cent level; the factors are common practice.
   */
  find({ plan, table }, { least, apart }) {
    const out: ManyFound<UnitSuspicion>[] = [];
    for (const [, event] of entries(plan, 'event')) {
      const rows = table.rowsOf(event.name);
      if (rows.length < 2 * least) continue;
      for (const { property } of propertiesOf(plan, event)) {
        const column = table.properties.get(property.name);
        if (!column || !isNumeric(property.type)) continue;
        const dictionary = column.values.values;
        const numeric = dictionary
          .flatMap((v, i) => (typeof v === 'number' ? [i] : []))
          .sort((a, b) => Number(dictionary[a]) - Number(dictionary[b]));
        const values = numeric.map((i) => Number(dictionary[i]));
        const place = new Int32Array(dictionary.length).fill(-1);
        numeric.forEach((i, at) => (place[i] = at));
        const all = new Float64Array(values.length);
        const groups = [...(sentOf(table, property.name).get(table.names.find(event.name))?.values() ?? [])].map(
          ({ source, release, sent }) => {
            const counts = new Float64Array(values.length);
            let size = 0;
            for (const [v, n] of sent) {
              counts[place[v]!] = n;
              all[place[v]!]! += n;
              size += n;
            }
            return { source, release, counts, count: size };
          },
        );
        for (const { source, release, counts, count } of groups) {
          const rest = all.map((n, i) => n - counts[i]!);
          // Against a majority: the one release that is right among many that are wrong is not to be blamed.
          const others = rest.reduce((n, x) => n + x, 0);
          if (count < least || others < Math.max(least, count)) continue;
          const part = distributionDistance(values, counts, rest, 1) < apart / 100;
          // Where most are as they should be, those that lie beyond all others may still be of another unit.
          const [lowest, highest] = part ? ends(values, rest) : [NaN, NaN];
          const odd = part ? counts.map((n, i) => (values[i]! < lowest || values[i]! > highest ? n : 0)) : counts;
          const size = odd.reduce((n, x) => n + x, 0);
          if (size < least) continue;
          const bound = Math.min(MOST_APART_EVER, MOST_APART * Math.sqrt((size + others) / (size * others)));
          const [factor] = FACTORS.flatMap(([f, reading]) => [
            { f, reading },
            { f: 1 / f, reading },
          ])
            .map((x) => ({ ...x, distance: distributionDistance(values, odd, rest, x.f) }))
            .filter((x) => x.distance <= bound)
            .sort((x, y) => x.distance - y.distance);
          if (!factor) continue;
          const cause = new Cause(table);
          cause.of = count;
          for (const row of rows) {
            const v = column.column.get(row);
            if (v < 0 || place[v]! < 0 || table.source.get(row) !== source || table.release.get(row) !== release) continue;
            if (!part || odd[place[v]!]! > 0) cause.add(row);
          }
          out.push({
            params: {
              eventName: event.name,
              property: property.name,
              unit: property.unit,
              factor: factor.f,
              reading: factor.reading,
              part,
            },
            eventName: event.name,
            field: `properties.${property.name}`,
            sourceId: table.sources.values[source]!,
            ...cause.found(),
          });
        }
      }
    }
    return out;
  },
});

/** The lowest and the highest value that occurs. */
const ends = (values: readonly number[], counts: Float64Array): readonly [number, number] => [
  values[counts.findIndex((n) => n > 0)]!,
  values[counts.findLastIndex((n) => n > 0)]!,
];

const factorText = (f: number): string =>
  f >= 1
    ? `${f.toLocaleString('en-GB', { maximumFractionDigits: 2 })} times`
    : `1/${(1 / f).toLocaleString('en-GB', { maximumFractionDigits: 2 })} of`;
