import { defineManyCheck, type ManyFound } from '../check-many';
import { IntakeSum } from './intake-sum';

export interface SentAgain {
  readonly again: number;
  readonly of: number;
}

export const sentAgain = defineManyCheck({
  id: 'sent-again',
  on: 'many',
  title: 'Sent again',
  why: 'It counts once here, but it costs, and a place that does not look at message IDs counts it twice.',
  severity: 'note',
  parameters: {
    share: { title: 'Share of all from which it is worth a word', unit: '%', value: 0.5, least: 0, most: 100 },
    least: { title: 'So few are not worth a word', unit: 'messages', value: 10, least: 1, most: 1_000_000, whole: true },
  },
  mender: () => 'source',
  expected: () => 'each message ID once',
  received: (p: SentAgain) => `${p.again.toLocaleString('en-GB')} a second time`,
  message: (p: SentAgain) =>
    `came again under the same message ID, ${p.again.toLocaleString('en-GB')} of ${p.of.toLocaleString('en-GB')}; each counts once`,
  cause: () => 'The source sends again what it has no answer to yet, or empties its queue twice.',
  mend: () => 'Wait for the answer before sending again. No figure here needs mending.',
  /** Days of the intake, in UTC. */
  find({ intake, now }, { share, least }) {
    const out: ManyFound<SentAgain>[] = [];
    for (const sum of IntakeSum.bySource(intake ?? [], (d) => d.duplicates))
      if (sum.count >= least && sum.count >= (sum.of * share) / 100)
        out.push({ params: { again: sum.count, of: sum.of }, ...sum.found(now) });
    return out;
  },
});
