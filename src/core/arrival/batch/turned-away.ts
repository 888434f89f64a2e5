import { defineManyCheck, type ManyFound } from '../check-many';
import { IntakeSum } from './intake-sum';

export interface TurnedAway {
  readonly refused: number;
  readonly of: number;
}

export const turnedAway = defineManyCheck({
  id: 'turned-away',
  on: 'many',
  title: 'Refused at the intake',
  why: 'What was refused is in no figure at all.',
  severity: 'caution',
  parameters: {
    share: { title: 'Share of all from which it is worth a word', unit: '%', value: 0.5, least: 0, most: 100 },
    least: { title: 'So few are not worth a word', unit: 'messages', value: 10, least: 1, most: 1_000_000, whole: true },
  },
  mender: () => 'source',
  expected: () => 'messages that can be read',
  received: (p: TurnedAway) => `${p.refused.toLocaleString('en-GB')} that cannot`,
  message: (p: TurnedAway) => `were refused, ${p.refused.toLocaleString('en-GB')} of ${p.of.toLocaleString('en-GB')}`,
  cause: () => 'They are no JSON, lack a name, an ID or a time with its zone, or are too large.',
  mend: () => 'Look at *Refused* for the reason of each, mend the source, and send again what is kept there.',
  /** Days of the intake, in UTC. */
  find({ intake, now }, { share, least }) {
    const out: ManyFound<TurnedAway>[] = [];
    for (const sum of IntakeSum.bySource(intake ?? [], (d) => d.refused))
      if (sum.count >= least && sum.count >= (sum.of * share) / 100)
        out.push({ params: { refused: sum.count, of: sum.of }, ...sum.found(now) });
    return out;
  },
});
