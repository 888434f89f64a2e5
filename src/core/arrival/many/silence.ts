import { entries } from '../../plan/plan';
import { defineManyCheck, type ManyFound } from '../check-many';
import { silenceParameters } from '../daily-volume';
import { volumesOf } from '../volume-series';

export interface Silence {
  readonly eventName: string;
  readonly days: number;
  /** Messages that the days before let expect in these days. */
  readonly expected: number;
  readonly ongoing: boolean;
}

export const silence = defineManyCheck({
  id: 'silence',
  on: 'many',
  title: 'Gone silent',
  why: 'A figure that falls because nothing arrives looks like a figure that falls.',
  example: {
    wrong: 'no `Late Fee Charged` for three days, where 66 were to be expected',
    right: 'some on each day, as the weeks before let expect',
  },
  method:
    'Whole days without a message, where the days before let expect so many that none at all is no chance. The silent days themselves are left out of what is expected. Source: daily-volume.',
  severity: 'stop',
  parameters: silenceParameters,
  fixer: () => 'source',
  expected: (p: Silence) => `about ${rounded(p.expected)} messages in ${dayWords(p.days)}`,
  received: () => 'none',
  message: (p: Silence) =>
    p.ongoing
      ? `has not arrived for ${dayWords(p.days)}, where about ${rounded(p.expected)} messages were to be expected`
      : `did not arrive for ${dayWords(p.days)}, where about ${rounded(p.expected)} messages were to be expected`,
  cause: (p: Silence) =>
    p.ongoing ? 'The source stopped sending it.' : 'The source stopped sending it for a while, or what it sent was lost.',
  fix: (p: Silence) =>
    p.ongoing
      ? 'Look at the last release of the source.'
      : `Send the missing days of \`${p.eventName}\` again, or leave them out of figures.`,
  *find({ plan, people: { table }, now }) {
    const out: ManyFound<Silence>[] = [];
    for (const [, event] of entries(plan, 'event'))
      for (const { source, periods, volume } of volumesOf(plan, table, now, event.name)) {
        yield;
        for (const s of volume.silent)
          out.push({
            params: { eventName: event.name, days: s.to - s.from, expected: s.expected, ongoing: s.ongoing },
            eventName: event.name,
            field: s.ongoing ? '' : String(periods.starts[s.from]),
            sourceId: table.sources.values[source]!,
            releases: [],
            count: 0,
            outOf: Math.round(s.expected),
            firstAt: periods.starts[s.from]!,
            lastAt: s.ongoing ? now : periods.starts[s.to]!,
            rows: [],
          });
      }
    yield* out;
  },
});

const rounded = (n: number): string => Math.round(n).toLocaleString('en-GB');
const dayWords = (n: number): string => (n === 1 ? 'a whole day' : `${n} whole days`);
