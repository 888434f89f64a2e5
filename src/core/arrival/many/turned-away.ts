import { defineManyCheck, type ManyFound } from '../check-many';
import { IntakeSum } from './intake-sum';

export interface TurnedAway {
  readonly rejected: number;
  readonly of: number;
}

export const turnedAway = defineManyCheck({
  id: 'turned-away',
  on: 'many',
  title: 'Rejected at the intake',
  why: 'Rejected messages are in no figure.',
  example: { wrong: 'a tenth of the messages of a source rejected as no JSON', right: 'none, or some of a thousand' },
  method: 'Days of the intake, in UTC.',
  severity: 'caution',
  parameters: {
    share: { title: 'Minimum share to report', unit: '%', value: 0.5, min: 0, max: 100 },
    min: { title: 'Minimum messages to report', unit: 'messages', value: 10, min: 1, max: 1_000_000, whole: true },
  },
  fixer: () => 'source',
  expected: () => 'messages that can be read',
  received: (p: TurnedAway) => `${p.rejected.toLocaleString('en-GB')} that cannot`,
  message: (p: TurnedAway) => `were rejected, ${p.rejected.toLocaleString('en-GB')} of ${p.of.toLocaleString('en-GB')}`,
  cause: () => 'They are not JSON, lack a name, an ID or a time with its zone, or are too large.',
  fix: () => 'See *Rejected messages* for the reason of each, fix the source, and send again what is kept there.',
  find({ intake, now }, { share, min }) {
    const out: ManyFound<TurnedAway>[] = [];
    for (const sum of IntakeSum.bySource(intake ?? [], (d) => d.rejected))
      if (sum.count >= min && sum.count >= (sum.of * share) / 100)
        out.push({ params: { rejected: sum.count, of: sum.of }, ...sum.found(now) });
    return out;
  },
});
