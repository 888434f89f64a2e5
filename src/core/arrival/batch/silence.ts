import { periodsBetween } from '../../questions/calendar';
import { settingsOf, entries } from '../../plan/plan';
import { median } from '../../stats/robust';
import { addByPeriod, firstOf, slotsOf, slotsOfEvent } from '../../table/cube';
import { defineManyCheck, type ManyFound } from '../check-many';

export interface Silence {
  readonly eventName: string;
  readonly days: number;
  /** Messages that its own weekdays let expect in these days. */
  readonly expected: number;
  readonly ongoing: boolean;
}

export const silence = defineManyCheck({
  id: 'silence',
  on: 'many',
  title: 'Gone silent',
  why: 'A figure that falls because nothing arrives looks like a figure that falls.',
  severity: 'stop',
  parameters: {
    weeks: { title: 'Weeks of the same weekday that tell what is usual', unit: '', value: 4, least: 2, most: 26, whole: true },
    chance: { title: 'Chance of no message at all below which it is no chance any more', unit: '', value: 1e-4, least: 0, most: 0.5 },
  },
  mender: () => 'source',
  expected: (p: Silence) => `about ${Math.round(p.expected)} messages in ${dayWords(p.days)}`,
  received: () => 'none',
  message: (p: Silence) =>
    p.ongoing
      ? `has not arrived for ${dayWords(p.days)}, where about ${Math.round(p.expected)} messages would have been usual`
      : `did not arrive for ${dayWords(p.days)}, where about ${Math.round(p.expected)} messages would have been usual`,
  cause: (p: Silence) =>
    p.ongoing ? 'The source stopped sending it.' : 'The source stopped sending it for a while, or what it sent was lost.',
  mend: (p: Silence) =>
    p.ongoing
      ? 'Look at the last release of the source.'
      : `Send the missing days of \`${p.eventName}\` again, or leave them out of figures.`,
  /** Whole days without a message, where the median of the same weekday over the last weeks lets expect some: the chance of none at
   *  all, if messages came at that rate by themselves (Poisson), is exp(−expected). Source: common practice.
   */
  find({ plan, table, now }, { weeks, chance }) {
    const { timeZone, weekStartsOn } = settingsOf(plan);
    const out: ManyFound<Silence>[] = [];
    if (table.length === 0) return out;
    const days = periodsBetween('day', firstOf(slotsOf(table)), now, timeZone, weekStartsOn);
    // The day that is not over says nothing yet.
    const whole = days.count - 1;
    for (const [, event] of entries(plan, 'event')) {
      for (const slots of slotsOfEvent(table, table.names.find(event.name))) {
        const { source } = slots;
        const counts = new Float64Array(days.count);
        addByPeriod(slots, days.find, counts);
        const first = days.find(firstOf([slots]));
        if (first < 0) continue;
        for (let d = first + 7 * weeks; d < whole; d++) {
          if (counts[d]! > 0) continue;
          const from = d;
          let expected = 0;
          for (; d < whole && counts[d] === 0; d++)
            expected += median(Array.from({ length: weeks }, (_, w) => counts[d - 7 * (w + 1)]!)) ?? 0;
          if (Math.exp(-expected) > chance) continue;
          const ongoing = d === whole;
          out.push({
            params: { eventName: event.name, days: d - from, expected, ongoing },
            eventName: event.name,
            field: ongoing ? '' : String(days.starts[from]),
            sourceId: table.sources.values[source]!,
            releases: [],
            count: 0,
            of: Math.round(expected),
            firstAt: days.starts[from]!,
            lastAt: days.starts[d] ?? now,
            rows: [],
          });
        }
      }
    }
    return out;
  },
});

const dayWords = (n: number): string => (n === 1 ? 'a whole day' : `${n} whole days`);
