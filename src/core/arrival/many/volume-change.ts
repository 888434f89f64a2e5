import { personsWith } from '../../definitions/defined-events';
import { entries } from '../../plan/plan';
import { defineManyCheck, type ManyFound } from '../check-many';
import { volumeParameters, type OffStretch } from '../daily-volume';
import { sourceVolumes, volumesOf, type SeriesVolume } from '../volume-series';

export interface VolumeChange {
  readonly eventName: string;
  readonly direction: 'fewer' | 'more';
  /** Messages of the stretch of days that is farthest out, how many days it has, and what was to be expected. */
  readonly messages: number;
  readonly days: number;
  readonly usual: number;
  /** All days that are off. */
  readonly allDays: number;
}

/** Of a stretch that the whole source shares, so much of the change must be the event's own. */
const OWN_SHARE = 0.5;

export const volumeChange = defineManyCheck({
  id: 'volume-change',
  on: 'many',
  title: 'Unusual volume for the weekday',
  why: 'Half the messages does not mean half the people.',
  example: {
    wrong: 'twice as many messages as on the same weekday of the weeks before',
    right: 'as many as chance and weekday let expect',
  },
  method:
    'Stretches of one to fourteen whole days against a model of the eight weeks before them: level, weekday and growth, with as much more variance than chance as those weeks show. What all events of a source share is told once, of the source; of a definition only what is not that of its events. Source: daily-volume.',
  severity: 'caution',
  parameters: volumeParameters,
  fixer: () => 'source',
  expected: (p: VolumeChange) => `about ${counted(p.usual)} messages on ${p.days === 1 ? 'such a day' : `such ${p.days} days`}`,
  received: (p: VolumeChange) => counted(p.messages),
  message: (p: VolumeChange) =>
    `came ${p.direction === 'fewer' ? 'less' : 'more'} often than expected${p.allDays > p.days ? ` on ${p.allDays} days` : ''}: ${counted(p.messages)} messages ${p.days === 1 ? 'on one day' : `in ${p.days} days`}, where about ${counted(p.usual)} were to be expected for ${p.days === 1 ? 'the weekday' : 'their weekdays'}`,
  cause: (p: VolumeChange) =>
    p.eventName === ''
      ? 'The whole source sent more or less: messages were lost or doubled, or something happened in the world.'
      : 'A release changed when it fires, messages were lost or doubled, or something happened in the world.',
  fix: () => 'Compare the days with the releases; acknowledge it if it is real.',
  *find({ plan, people, now }) {
    const { table } = people;
    const out: ManyFound<VolumeChange>[] = [];
    const add = (eventName: string, { source, periods, counts, volume }: SeriesVolume, off: readonly OffStretch[]): void => {
      for (const direction of ['fewer', 'more'] as const) {
        const own = off.filter((o) => o.direction === direction);
        const [farthest] = [...own].sort((a, b) => Math.abs(b.deviation) - Math.abs(a.deviation));
        if (!farthest) continue;
        const days = volume.days.flatMap((d, i) => (own.some((o) => i >= o.from && i < o.to) && d.off === direction ? [i] : []));
        const first = Math.min(...own.map((o) => o.from));
        const last = Math.max(...own.map((o) => o.to));
        out.push({
          params: {
            eventName,
            direction,
            messages: farthest.messages,
            days: farthest.to - farthest.from,
            usual: farthest.expected,
            allDays: days.length,
          },
          eventName,
          field: direction,
          sourceId: table.sources.values[source]!,
          releases: [],
          count: days.reduce((n, d) => n + counts[d]!, 0),
          outOf: counts.reduce((n, x) => n + x, 0),
          firstAt: periods.starts[first]!,
          lastAt: Math.min(now, periods.starts[last] ?? now),
          rows: [],
        });
      }
    };
    const whole = new Map<number, SeriesVolume>();
    for (const s of sourceVolumes(plan, table, now)) {
      whole.set(s.source, s);
      add('', s, s.volume.off);
    }
    for (const [, event] of entries(plan, 'event'))
      for (const s of volumesOf(plan, table, now, event.name)) {
        yield;
        const all = whole.get(s.source);
        add(
          event.name,
          s,
          s.volume.off.filter((o) => !all || isOwn(o, all)),
        );
      }
    const seen = personsWith(people, plan).table;
    for (const [, d] of entries(plan, 'definition')) {
      if (d.retired || !seen.isDefined(d.name)) continue;
      const madeOf = d.source.of === 'events' ? d.source.names.filter((n) => n !== d.name) : [];
      for (const s of volumesOf(plan, seen, now, d.name)) {
        yield;
        const all = [
          whole.get(s.source),
          ...madeOf.flatMap((n) => [...volumesOf(plan, seen, now, n)].filter((x) => x.source === s.source)),
        ];
        // What comes no more at all is told by a check of its own.
        add(
          d.name,
          s,
          s.volume.off.filter((o) => !endsInNothing(o, s) && all.every((w) => !w || isOwn(o, w))),
        );
      }
    }
    yield* out;
  },
});

/** Whether nothing came since a stretch began to be less. */
const endsInNothing = ({ direction, to }: OffStretch, { counts }: SeriesVolume): boolean =>
  direction === 'fewer' && counts.slice(to - 1).every((n) => n === 0);

/** Whether a stretch is the event's own, rather than what its whole source did in these days. */
const isOwn = (o: OffStretch, { volume, counts }: SeriesVolume): boolean => {
  let [came, expected] = [0, 0];
  for (let d = o.from; d < o.to; d++) {
    came += counts[d]!;
    expected += volume.days[d]?.expected?.usual ?? counts[d]!;
  }
  if (!volume.off.some((x) => x.direction === o.direction && x.from < o.to && x.to > o.from) || expected === 0) return true;
  const change = o.messages / o.expected - 1;
  return Math.abs(change - (came / expected - 1)) > OWN_SHARE * Math.abs(change);
};

const counted = (n: number): string => Math.round(n).toLocaleString('en-GB');
