/** Messages of each day beside what the same weekday lets expect, with the releases and plan versions that fall into the days. */
import { settingsOf, type Plan } from '../plan/plan';
import { periodsBetween } from '../questions/calendar';
import { DAY_MS } from '../questions/formula';
import { median, robustBand } from '../stats/robust';
import type { MessageTable } from '../table/message-table';

export interface VolumeDay {
  /** Begin of the day, UTC epoch ms. */
  readonly at: number;
  readonly messages: number;
  /** Persons with at least one of the messages; those of nobody are left out. */
  readonly persons: number;
  /** What the same weekdays before let expect; `undefined` with fewer than four of them. */
  readonly band: { readonly low: number; readonly high: number; readonly usual: number } | undefined;
  readonly off: 'fewer' | 'more' | undefined;
}

export interface VolumeMark {
  readonly at: number;
  readonly what: 'release' | 'version';
  readonly text: string;
}

export interface Volume {
  /** The last day is not over. */
  readonly days: readonly VolumeDay[];
  readonly marks: readonly VolumeMark[];
  readonly messages: number;
}

/** The same weekdays that are looked back on. */
const WEEKS = 8;
/** Weeks with a level far from that of today say little in its terms: they are left out where there are so many without them. */
const LEAST_WEEKS = 4;
/** Robust standard deviations; a band, unlike a finding, shows what is a little unusual too. */
const WIDTH = 5;
/** Where so many are usual, none at all is no chance: e⁻⁹·² is one in ten thousand. */
const SILENT_FROM = 9.2;
/** A release is marked where it sends at least so much of what its source sends within a week of its first message. */
const LEAST_OF_RELEASE = 0.02;

/** The median of the seven days before a day; 0 where there are none. */
const levelBefore = (counts: Float64Array, day: number): number => median([...counts.subarray(Math.max(0, day - 7), day)]) ?? 0;

/** Counts over the last `days` days in the workspace's zone.
 *  Shape: `eventName` and `sourceId` narrow, `undefined` takes all. Versions are given with when they were published, UTC epoch ms.
 *  The band is the median of up to eight same weekdays before of weeks with a like level, or of the last four, each as a multiple of the median of the seven days before it, times that of
 *  the day's own, ± 5 robust standard deviations. Source: stats/robust.
 */
export const volumeOf = (
  plan: Plan,
  table: MessageTable,
  personOfMessage: Int32Array,
  versions: readonly { readonly number: number; readonly at: number }[],
  now: number,
  of: { readonly eventName?: string | undefined; readonly sourceId?: string | undefined; readonly days?: number },
): Volume => {
  const { timeZone, weekStartsOn } = settingsOf(plan);
  const shown = of.days ?? 56;
  const periods = periodsBetween('day', now - (shown + 7 * (WEEKS + 1) - 1) * DAY_MS, now, timeZone, weekStartsOn);
  const source = of.sourceId === undefined ? -2 : table.sources.find(of.sourceId);
  const time = table.time.raw;
  const counts = new Float64Array(periods.count);
  const persons = new Float64Array(periods.count);
  const lastDay = new Map<number, number>();
  const seenOnDay = new Set<string>();
  const releases = new Map<number, { first: number; soon: number }>();
  const firstOfSource = new Map<number, number>();
  const take = (row: number): void => {
    const s = table.source.get(row);
    if (source !== -2 && s !== source) return;
    const at = time[row]!;
    if (at < (firstOfSource.get(s) ?? Infinity)) firstOfSource.set(s, at);
    const key = table.release.get(row);
    const r = releases.get(key);
    if (!r) releases.set(key, { first: at, soon: 1 });
    else {
      r.first = Math.min(r.first, at);
      if (at - r.first < 7 * DAY_MS) r.soon++;
    }
    if (at < periods.starts[0]! || at >= periods.starts[periods.count]!) return;
    const d = periods.find(at);
    counts[d]!++;
    const p = personOfMessage[row] ?? -1;
    if (p < 0 || lastDay.get(p) === d) return;
    lastDay.set(p, d);
    const once = `${p} ${d}`;
    if (seenOnDay.has(once)) return;
    seenOnDay.add(once);
    persons[d]!++;
  };
  if (of.eventName === undefined) for (let row = 0; row < table.length; row++) take(row);
  else for (const row of table.rowsOf(of.eventName)) take(row);

  const first = [...firstOfSource.values()].reduce((a, b) => Math.min(a, b), Infinity);
  const from = Math.max(0, periods.count - shown);
  const days: VolumeDay[] = [];
  for (let d = from; d < periods.count; d++) {
    // Each beside the level of the week before it, so that steady growth is no surprise.
    const level = levelBefore(counts, d);
    const before = Array.from({ length: WEEKS }, (_, w) => d - 7 * (w + 1))
      .filter((x) => x >= 0 && periods.starts[x]! >= first)
      .map((x) => ({ count: counts[x]!, level: levelBefore(counts, x) }))
      .filter((x) => x.level > 0);
    const alike = before.filter((x) => x.level >= level / 2 && x.level <= 2 * level);
    const band = robustBand(
      (alike.length < LEAST_WEEKS ? before.slice(0, LEAST_WEEKS) : alike).map((x) => (x.count / x.level) * level),
      WIDTH,
    );
    const messages = counts[d]!;
    const over = d < periods.count - 1;
    days.push({
      at: periods.starts[d]!,
      messages,
      persons: persons[d]!,
      band: band && { low: band.low, high: band.high, usual: band.median },
      off:
        !band || !over
          ? undefined
          : messages < band.low || (messages === 0 && band.median > SILENT_FROM)
            ? 'fewer'
            : messages > band.high
              ? 'more'
              : undefined,
    });
  }
  const start = days[0]?.at ?? now;
  const total = counts.reduce((n, x) => n + x, 0);
  const marks: VolumeMark[] = [
    ...[...releases]
      // What was there from the beginning was not released in these days.
      .filter(
        ([key, r]) =>
          table.releases.values[key] !== '' &&
          r.first >= start &&
          r.first - first > DAY_MS &&
          r.soon >= (LEAST_OF_RELEASE * total) / periods.count,
      )
      .map(([key, r]): VolumeMark => ({ at: r.first, what: 'release', text: table.releases.values[key]! })),
    ...versions.filter((v) => v.at >= start).map((v): VolumeMark => ({ at: v.at, what: 'version', text: `version ${v.number}` })),
  ].sort((a, b) => a.at - b.at);
  return { days, marks, messages: days.reduce((n, d) => n + d.messages, 0) };
};
