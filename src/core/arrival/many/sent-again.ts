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
  example: { wrong: 'a message ID that was sent twice, because the first answer was lost', right: 'each message ID once' },
  method: 'Days of the intake, in UTC.',
  severity: 'note',
  parameters: {
    share: { title: 'Minimum share to report', unit: '%', value: 0.5, min: 0, max: 100 },
    min: { title: 'Minimum messages to report', unit: 'messages', value: 10, min: 1, max: 1_000_000, whole: true },
  },
  fixer: () => 'source',
  expected: () => 'each message ID once',
  received: (p: SentAgain) => `${p.again.toLocaleString('en-GB')} a second time`,
  message: (p: SentAgain) =>
    `came again under the same message ID, ${p.again.toLocaleString('en-GB')} of ${p.of.toLocaleString('en-GB')}; each counts once`,
  cause: () => 'The source sends again what it has no answer to yet, or empties its queue twice.',
  fix: () => 'Wait for the answer before sending again. No figure here needs fixing.',
  find({ intake, now }, { share, min }) {
    const out: ManyFound<SentAgain>[] = [];
    for (const sum of IntakeSum.bySource(intake ?? [], (d) => d.duplicates))
      if (sum.count >= min && sum.count >= (sum.of * share) / 100)
        out.push({ params: { again: sum.count, of: sum.of }, ...sum.found(now) });
    return out;
  },
});
