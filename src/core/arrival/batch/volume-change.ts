import { periodsBetween } from '../../questions/calendar';
import { entries, settingsOf } from '../../plan/plan';
import { robustBand } from '../../stats/robust';
import { addByPeriod, firstOf, slotsOf, slotsOfEvent } from '../../table/cube';
import { defineManyCheck, type ManyFound } from '../check-many';

export interface VolumeChange {
  readonly eventName: string;
  readonly direction: 'fewer' | 'more';
  /** Messages of the day that is farthest out, and what was usual. */
  readonly messages: number;
  readonly usual: number;
  readonly days: number;
}

/** Robust standard deviations from the median; wider where they come from few days. */
const widthOf = (width: number, days: number): number => width * (1 + 4 / days);

export const volumeChange = defineManyCheck({
  id: 'volume-change',
  on: 'many',
  title: 'Volume off its weekday',
  why: 'A loss of half of the messages is no half of the persons.',
  severity: 'caution',
  parameters: {
    weeks: { title: 'Weeks of the same weekday looked back on', unit: '', value: 8, least: 4, most: 52, whole: true },
    width: {
      title: 'Robust standard deviations from the median, for many weeks; for few it is wider',
      unit: '',
      value: 6,
      least: 2,
      most: 20,
    },
    least: {
      title: 'Messages a day below which chance is greater than any band',
      unit: '',
      value: 30,
      least: 1,
      most: 1000000,
      whole: true,
    },
  },
  mender: () => 'source',
  expected: (p: VolumeChange) => `about ${Math.round(p.usual)} messages on such a day`,
  received: (p: VolumeChange) => `${p.messages} on the farthest day`,
  message: (p: VolumeChange) =>
    `came ${p.direction === 'fewer' ? 'less' : 'more'} often than usual on ${p.days === 1 ? 'one day' : `${p.days} days`}: ${p.messages} messages on the farthest, where ${Math.round(p.usual)} were usual for the weekday`,
  cause: () => 'A release changed when it fires, messages were lost or doubled, or something happened in the world.',
  mend: () => 'Compare the day with the releases; note it if it is real.',
  /** Each whole day against the same weekday of the weeks before it, as a share of all messages of the source, so that the
   *  source's own growth is no finding: median ± so many robust standard deviations. Source: stats/robust.
   */
  find({ plan, table, now }, { weeks, width, least }) {
    const { timeZone, weekStartsOn } = settingsOf(plan);
    const out: ManyFound<VolumeChange>[] = [];
    if (table.length === 0) return out;
    const days = periodsBetween('day', firstOf(slotsOf(table)), now, timeZone, weekStartsOn);
    const totals = table.sources.values.map(() => new Float64Array(days.count));
    for (const slots of slotsOf(table)) addByPeriod(slots, days.find, totals[slots.source]!);
    for (const [, event] of entries(plan, 'event')) {
      const bySource = new Map<number, Float64Array>();
      for (const slots of slotsOfEvent(table, table.names.find(event.name))) {
        const counts = new Float64Array(days.count);
        addByPeriod(slots, days.find, counts);
        bySource.set(slots.source, counts);
      }
      for (const [source, counts] of bySource) {
        const total = totals[source]!;
        let farthest: { at: number; messages: number; usual: number; off: number } | undefined;
        const off: number[] = [];
        for (let d = 7 * 4; d < days.count - 1; d++) {
          const before = Array.from({ length: weeks }, (_, w) => d - 7 * (w + 1)).filter((x) => x > 0 && total[x]! > 0);
          // What the same weekdays would have been, had the source sent as much as on this day.
          const band = robustBand(
            before.map((x) => (counts[x]! / total[x]!) * total[d]!),
            widthOf(width, before.length),
          );
          if (!band || band.median < least) continue;
          const n = counts[d]!;
          if (n === 0 || (n >= band.low && n <= band.high)) continue;
          off.push(d);
          const by = Math.abs(n - band.median) / band.median;
          if (!farthest || by > farthest.off) farthest = { at: d, messages: n, usual: band.median, off: by };
        }
        if (!farthest) continue;
        out.push({
          params: {
            eventName: event.name,
            direction: farthest.messages < farthest.usual ? 'fewer' : 'more',
            messages: farthest.messages,
            usual: farthest.usual,
            days: off.length,
          },
          eventName: event.name,
          field: '',
          sourceId: table.sources.values[source]!,
          releases: [],
          count: off.reduce((n, d) => n + counts[d]!, 0),
          of: counts.reduce((n, x) => n + x, 0),
          firstAt: days.starts[off[0]!]!,
          lastAt: days.starts[off.at(-1)! + 1] ?? now,
          rows: [],
        });
      }
    }
    return out;
  },
});
