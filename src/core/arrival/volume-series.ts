/** The days of each event and source, judged: worked out once while no day that is over changes. */
import type { Plan } from '../plan/plan';
import type { Periods } from '../questions/calendar';
import { addByPeriod, earliestOf, slotsOf, slotsOfEvent, type Slots } from '../table/cube';
import type { MessageTable } from '../table/message-table';
import { dailyVolume, volumeDays, volumeSettings, type DailyVolume, type VolumeSettings } from './daily-volume';

export interface SeriesVolume {
  /** Index of the source. */
  readonly source: number;
  readonly periods: Periods;
  readonly counts: Float64Array;
  readonly volume: DailyVolume;
}

interface Known {
  readonly begin: number;
  readonly first: number;
  readonly settings: string;
  readonly counts: Float64Array;
  volume: DailyVolume;
}

const known = new WeakMap<object, Known>();

/** Judges counts, or remembers: while all days that are over are as they were, only the day that is not over has another count. */
const judged = (owner: object, periods: Periods, counts: Float64Array, first: number, settings: VolumeSettings): DailyVolume => {
  const text = JSON.stringify(settings);
  const before = known.get(owner);
  const begin = periods.starts[0]!;
  const last = counts.length - 1;
  if (before?.begin === begin && before.first === first && before.settings === text && before.counts.length === counts.length) {
    let same = true;
    for (let d = 0; d < last && same; d++) same = before.counts[d] === counts[d];
    if (same) {
      const days = before.volume.days.with(-1, { ...before.volume.days.at(-1)!, messages: counts[last]! });
      return (before.volume = { ...before.volume, days });
    }
  }
  const volume = dailyVolume(counts, first, settings);
  known.set(owner, { begin, first, settings: text, counts, volume });
  return volume;
};

const seriesOf = (
  plan: Plan,
  now: number,
  source: number,
  owner: object,
  parts: readonly Pick<Slots, 'counts'>[],
  first: number,
): SeriesVolume => {
  const periods = volumeDays(plan, now);
  const counts = new Float64Array(periods.count);
  for (const p of parts) addByPeriod(p, periods.find, counts);
  const begin = first < periods.starts[0]! ? 0 : periods.find(Math.min(first, now));
  return { source, periods, counts, volume: judged(owner, periods, counts, Math.max(0, begin), volumeSettings(plan)) };
};

/** The days of an event, by source. Days begin with the first message that can be believed. */
export function* volumesOf(plan: Plan, table: MessageTable, now: number, eventName: string): Iterable<SeriesVolume> {
  for (const slots of slotsOfEvent(table, eventName)) yield seriesOf(plan, now, slots.source, slots, [slots], earliestOf([slots], now));
}

/** One per source and table, so that what was worked out for it is found again. */
const owners = new WeakMap<MessageTable, Map<number, object>>();

/** The days of each source, all its messages together. */
export function* sourceVolumes(plan: Plan, table: MessageTable, now: number): Iterable<SeriesVolume> {
  const bySource = new Map<number, Slots[]>();
  for (const s of slotsOf(table)) {
    const own = bySource.get(s.source);
    if (own) own.push(s);
    else bySource.set(s.source, [s]);
  }
  let own = owners.get(table);
  if (!own) owners.set(table, (own = new Map<number, object>()));
  for (const [source, parts] of bySource) {
    if (!own.has(source)) own.set(source, {});
    yield seriesOf(plan, now, source, own.get(source)!, parts, earliestOf(parts, now));
  }
}
