/** Messages of each day beside what the days before let expect, with the releases and plan versions that fall into the days. */
import type { Plan } from '../plan/plan';
import { addByPeriod, cubeOf, earliestOf, slotsOf, slotsOfEvent, type Slots } from '../table/cube';
import { following } from '../table/following';
import type { Attributed } from '../table/following-persons';
import { DAY_MS } from '../time';
import { dailyVolume, volumeDays, volumeSettings, type JudgedDay } from './daily-volume';

export interface VolumeDay {
  /** Begin of the day, UTC epoch ms. */
  readonly at: number;
  readonly messages: number;
  /** Persons with at least one of the messages; those of nobody are left out. */
  readonly persons: number;
  /** What the days before let expect; `undefined` with fewer than two weeks of them. */
  readonly band: { readonly low: number; readonly high: number; readonly usual: number } | undefined;
  readonly off: JudgedDay['off'];
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
  /** Messages dated before the days shown, and after now. */
  readonly before: number;
  readonly after: number;
}

/** A release is marked where it sends at least so much of what its source sends within a week of its first message. */
const MIN_OF_RELEASE = 0.02;

interface FirstOfRelease {
  first: number;
  soon: number;
}

/** By the index of the source, then of the release: when it came first, and how much within a week. */
const releases = following(
  () => new Map<number, Map<number, FirstOfRelease>>(),
  (state, { source, release, received }, from, to) => {
    for (let row = from; row < to; row++) {
      let own = state.get(source.get(row));
      if (!own) state.set(source.get(row), (own = new Map<number, FirstOfRelease>()));
      const at = received.get(row);
      const r = own.get(release.get(row));
      if (!r) own.set(release.get(row), { first: at, soon: 1 });
      else {
        r.first = Math.min(r.first, at);
        if (at - r.first < 7 * DAY_MS) r.soon++;
      }
    }
  },
);

/** Counts over the last `days` days in the workspace's zone.
 *  Shape: `eventName` and `sourceId` narrow, `undefined` takes all. Versions are given with when they were published, UTC epoch ms.
 *  The band is that of the finding of volume. Source: daily-volume.
 */
export const volumeOf = (
  plan: Plan,
  { table, personOfMessage }: Attributed,
  versions: readonly { readonly number: number; readonly at: number }[],
  now: number,
  of: { readonly eventName?: string | undefined; readonly sourceId?: string | undefined; readonly days?: number },
): Volume => {
  const periods = volumeDays(plan, now);
  const shown = Math.min(of.days ?? 56, periods.count);
  const from = periods.count - shown;
  const source = of.sourceId === undefined ? undefined : table.sources.find(of.sourceId);
  const parts: Slots[] = [...(of.eventName === undefined ? slotsOf(table) : slotsOfEvent(table, of.eventName))].filter(
    (s) => source === undefined || s.source === source,
  );
  const counts = new Float64Array(periods.count);
  for (const p of parts) addByPeriod(p, periods.find, counts);
  const first = earliestOf(parts, now);
  const judged = dailyVolume(counts, first < periods.starts[0]! ? 0 : Math.max(0, periods.find(first)), volumeSettings(plan));

  const persons = periods.starts.map(() => new Set<number>());
  let [before, after] = [0, 0];
  const take = (row: number): void => {
    if (source !== undefined && table.source.get(row) !== source) return;
    const at = table.time.get(row);
    if (at < periods.starts[from]!) {
      before++;
      return;
    }
    if (at > now) after++;
    const d = periods.find(at);
    const p = personOfMessage[row] ?? -1;
    if (d >= 0 && p >= 0) persons[d]!.add(p);
  };
  if (of.eventName === undefined) for (let row = 0; row < personOfMessage.length; row++) take(row);
  else for (const row of table.rowsOf(of.eventName)) take(row);

  const days = judged.days.slice(from).map((d, i): VolumeDay => ({
    at: periods.starts[from + i]!,
    messages: d.messages,
    persons: persons[from + i]!.size,
    band: d.expected,
    off: d.off,
  }));
  const start = days[0]?.at ?? now;
  const total = counts.reduce((n, x) => n + x, 0);
  const isDefined = of.eventName !== undefined && table.isDefined(of.eventName);
  const names = of.eventName === undefined ? undefined : table.names.find(of.eventName);
  const sending = new Set<number>();
  for (const c of cubeOf(table))
    if (!isDefined && (names === undefined || c.name === names) && (source === undefined || c.source === source)) sending.add(c.release);
  if (isDefined)
    for (const row of table.rowsOf(of.eventName))
      if (source === undefined || table.source.get(row) === source) sending.add(table.release.get(row));
  const marks: VolumeMark[] = [
    ...[...releases(table)]
      .filter(([s]) => source === undefined || s === source)
      .flatMap(([, own]) => [...own])
      // What was there from the beginning was not released in these days.
      .filter(
        ([key, r]) =>
          sending.has(key) &&
          table.releases.values[key] !== '' &&
          r.first >= start &&
          r.first - first > DAY_MS &&
          r.soon >= (MIN_OF_RELEASE * total) / periods.count,
      )
      .map(([key, r]): VolumeMark => ({ at: r.first, what: 'release', text: table.releases.values[key]! })),
    ...versions.filter((v) => v.at >= start).map((v): VolumeMark => ({ at: v.at, what: 'version', text: `version ${v.number}` })),
  ].sort((a, b) => a.at - b.at);
  return { days, marks, messages: days.reduce((n, d) => n + d.messages, 0), before, after };
};
