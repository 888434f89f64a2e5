/** Which releases of a source send numbers in another unit than the others, and which of two units is right. */
import type { Property } from '../plan/plan';
import { chanceDistance, mixtureOf, pooled, quantileIn, sampleOf, shareWithin, type Sample } from '../stats/mixture';
import { following } from '../table/following';
import type { UnitReading } from './unit-readings';
import { refOfKey } from '../plan/property-path';

/** What tells which unit is right. */
export type Ground = 'plan' | 'past' | 'majority' | 'none';

/** The numbers that a release of a source sent, by value, with how often. */
interface Sent {
  readonly source: number;
  readonly release: number;
  readonly firstRow: number;
  readonly numbers: Map<number, number>;
}

/** By the index of the event's name, of the source and of the release; the key is the property's path. */
export const sentOf = following(
  () => new Map<number, Map<number, Map<number, Sent>>>(),
  (state, table, from, to, key) => {
    const { column, values } = table.properties.get(refOfKey(key))!;
    for (let row = from; row < to; row++) {
      const value = values.values[column.get(row)];
      const name = table.name.get(row);
      if (name < 0 || typeof value !== 'number') continue;
      let ofName = state.get(name);
      if (!ofName) state.set(name, (ofName = new Map<number, Map<number, Sent>>()));
      const [source, release] = [table.source.get(row), table.release.get(row)];
      let ofSource = ofName.get(source);
      if (!ofSource) ofName.set(source, (ofSource = new Map<number, Sent>()));
      let own = ofSource.get(release);
      if (!own) ofSource.set(release, (own = { source, release, firstRow: row, numbers: new Map() }));
      own.numbers.set(value, (own.numbers.get(value) ?? 0) + 1);
    }
  },
);

export interface Group extends Sent {
  readonly sample: Sample;
}

/** Groups whose numbers lie alike. */
interface Cluster {
  groups: Group[];
  sample: Sample;
}

/** Distributions nearer than this are of one unit, however many values tell them apart. */
const ALIKE = 0.12;
/** A mixture must explain what it is said to be so well. */
const WELL_EXPLAINED = 0.1;
/** Values beyond the usual ones by this factor are looked at singly. */
const BEYOND = 1.5;
const MIN_ODD = 8;
/** Units nearer than this are told apart only where nearly all values are in the other: a part looks like a wider spread. */
const PLAIN_FACTOR = 5;
const NEARLY_ALL = 0.9;
const MIN_SHARE = 0.025;
/** Samples of a plan say where values lie to within this factor. */
const SAMPLE_SLACK = 4;
/** Between the plan's fit of two readings there must be so much of a difference. */
const PLAN_DIFFERENCE = 0.25;

const clustersOf = (groups: readonly Group[]): Cluster[] => {
  const clusters: Cluster[] = [];
  for (const g of [...groups].sort((a, b) => b.sample.size - a.sample.size)) {
    const near = clusters
      .map((c) => ({ c, apart: mixtureOf(g.sample, c.sample, 1).apart }))
      .filter(({ c, apart }) => apart <= Math.max(ALIKE, chanceDistance(g.sample.size, c.sample.size)))
      .sort((a, b) => a.apart - b.apart)[0]?.c;
    if (near) {
      near.groups.push(g);
      near.sample = pooled(near.groups.map((x) => x.sample));
    } else clusters.push({ groups: [g], sample: g.sample });
  }
  return clusters;
};

/** Where the plan says that values lie: its range, else about its samples; `undefined` where it says neither. */
const plannedBounds = ({ min, max, samples }: Property): { readonly low: number; readonly high: number } | undefined => {
  if (max !== undefined) return { low: min ?? -Infinity, high: max };
  const numbers = samples.map(Number).filter((n) => Number.isFinite(n) && n > 0);
  if (numbers.length < 2) return undefined;
  return { low: Math.max(min ?? -Infinity, Math.min(...numbers) / SAMPLE_SLACK), high: Math.max(...numbers) * SAMPLE_SLACK };
};

export interface Suspect {
  readonly group: Group;
  readonly reading: UnitReading;
  readonly share: number;
  readonly ground: Ground;
  /** Which of its values are in the other unit. */
  readonly isOdd: (value: number) => boolean;
}

/** Which of two clusters is right, and by what: the plan, what the same sources sent before, or where more sources and releases agree. */
const judge = (
  a: Cluster,
  b: Cluster,
  bounds: ReturnType<typeof plannedBounds>,
): { readonly right: Cluster | undefined; readonly ground: Ground } => {
  if (bounds) {
    const [x, y] = [shareWithin(a.sample, bounds.low, bounds.high), shareWithin(b.sample, bounds.low, bounds.high)];
    if (Math.abs(x - y) >= PLAN_DIFFERENCE) return { right: x > y ? a : b, ground: 'plan' };
  }
  // Releases of the same sources: those that came first are their past.
  const sourcesOf = (c: Cluster): Set<number> => new Set(c.groups.map((g) => g.source));
  const [own, others] = [sourcesOf(a), sourcesOf(b)];
  const isLaterThan = (late: Cluster, early: Cluster): boolean =>
    late.groups.every((g) => early.groups.some((e) => e.source === g.source && e.firstRow < g.firstRow));
  const shares = [...own].some((s) => others.has(s));
  if (shares && isLaterThan(b, a) && !isLaterThan(a, b)) return { right: a, ground: 'past' };
  if (shares && isLaterThan(a, b) && !isLaterThan(b, a)) return { right: b, ground: 'past' };
  if (own.size !== others.size) return { right: own.size > others.size ? a : b, ground: 'majority' };
  if (a.groups.length !== b.groups.length && own.size > 1) return { right: a.groups.length > b.groups.length ? a : b, ground: 'majority' };
  return { right: undefined, ground: 'none' };
};

/** How a cluster reads as a multiple of another one, in whole or in part; the best reading, `undefined` for none. */
const readingOf = (c: Cluster, reference: Cluster, readings: readonly UnitReading[]) =>
  readings
    .map((reading) => ({ reading, ...mixtureOf(c.sample, reference.sample, reading.factor) }))
    .filter(
      (m) =>
        m.share >= MIN_SHARE &&
        (m.share >= NEARLY_ALL || Math.abs(Math.log(m.reading.factor)) >= Math.log(PLAIN_FACTOR)) &&
        m.distance <= Math.max(WELL_EXPLAINED, chanceDistance(c.sample.size, reference.sample.size)) &&
        m.distance <= m.apart * 0.5,
    )
    .sort((x, y) => x.distance - y.distance)[0];

/** Single values of a group that lie beyond all usual ones, and are usual when read in another unit. */
const oddWithin = (
  group: Group,
  low: number,
  high: number,
  readings: readonly UnitReading[],
  ground: Suspect['ground'],
): Suspect | undefined => {
  if (!(high > 0)) return undefined;
  const isBeyond = (v: number): boolean => v > high * BEYOND || (low > 0 && v < low / BEYOND);
  const odd = sampleOf(new Map([...group.numbers].filter(([v]) => isBeyond(v))));
  if (odd.size < Math.max(MIN_ODD, group.sample.size * MIN_SHARE)) return undefined;
  const rest = sampleOf(new Map([...group.numbers].filter(([v]) => !isBeyond(v))));
  const best = readings
    .map((reading) => ({
      reading,
      within: shareWithin(odd, low, high, reading.factor),
      apart: rest.size === 0 ? 0 : mixtureOf(odd, rest, reading.factor),
    }))
    .filter((x) => x.within >= 0.9)
    .map((x) => ({ ...x, off: typeof x.apart === 'number' ? 0 : distanceAsMultiple(odd, rest, x.reading.factor) }))
    .sort((x, y) => x.off - y.off)[0];
  if (!best || best.off > Math.max(0.35, chanceDistance(odd.size, Math.max(1, rest.size)))) return undefined;
  return { group, reading: best.reading, share: odd.size / group.sample.size, ground, isOdd: isBeyond };
};

/** How far values lie from being a multiple of others. */
const distanceAsMultiple = (odd: Sample, rest: Sample, factor: number): number => {
  const scaled = sampleOf(new Map(odd.values.map((v, i) => [v / factor, odd.counts[i]!])));
  return mixtureOf(scaled, rest, 1).apart;
};

export const suspectsIn = (groups: readonly Group[], property: Property, readings: readonly UnitReading[]): Suspect[] => {
  const bounds = plannedBounds(property);
  const clusters = clustersOf(groups);
  const found = new Map<Group, Suspect>();
  const accuse = (c: Cluster, reading: UnitReading, share: number, ground: Suspect['ground'], reference: Sample): void => {
    const low = quantileIn(reference, 0)!;
    const high = quantileIn(reference, 1)!;
    for (const group of c.groups)
      if (!found.has(group))
        found.set(group, {
          group,
          reading,
          share,
          ground,
          isOdd:
            share > 0.97
              ? () => true
              : (v) => v / reading.factor >= low * 0.999 && v / reading.factor <= high * 1.001 && (v > high || v < low),
        });
  };
  for (const [i, a] of clusters.entries())
    for (const b of clusters.slice(i + 1)) {
      const { right, ground } = judge(a, b, bounds);
      const [reference, other] = right === b ? [b, a] : [a, b];
      const reading = readingOf(other, reference, readings);
      if (reading) accuse(other, reading.reading, reading.share, ground, reference.sample);
    }
  // What the plan itself says of a whole cluster, when there is none to compare it with.
  if (bounds)
    for (const c of clusters) {
      if (c.groups.some((g) => found.has(g)) || shareWithin(c.sample, bounds.low, bounds.high) > 0.3) continue;
      const fitting = readings.filter((r) => shareWithin(c.sample, bounds.low, bounds.high, r.factor) >= 0.9);
      const [reading, ...others] = fitting;
      if (reading && others.length === 0)
        accuse(
          c,
          reading,
          1,
          'plan',
          sampleOf(
            new Map([
              [bounds.low, 1],
              [bounds.high, 1],
            ]),
          ),
        );
    }
  for (const c of clusters)
    for (const group of c.groups) {
      if (found.has(group)) continue;
      const others = c.groups.filter((g) => g !== group).map((g) => g.sample);
      const reference = pooled(others);
      const suspect =
        (property.max !== undefined ? oddWithin(group, property.min ?? 0, property.max, readings, 'plan') : undefined) ??
        (reference.size >= group.sample.size / 4 && reference.size >= MIN_ODD
          ? oddWithin(group, quantileIn(reference, 0.01)!, quantileIn(reference, 0.99)!, readings, 'majority')
          : undefined);
      if (suspect) found.set(group, suspect);
    }
  return [...found.values()];
};
