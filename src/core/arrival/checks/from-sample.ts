import { defineMessageCheck } from '../check';

export interface FromSample {
  /** Share of devices that send such messages, as the message says it: more than 0, less than 1. */
  readonly rate: number;
}

const share = (rate: number): string =>
  `${(rate * 100).toLocaleString('en-GB', { maximumFractionDigits: rate < 0.01 ? 4 : 1 })} % of devices`;
const times = (rate: number): string => (1 / rate).toLocaleString('en-GB', { maximumFractionDigits: 1 });

export const fromSample = defineMessageCheck({
  id: 'from-sample',
  on: 'sample rate',
  title: 'Sent from a sample',
  why: 'A count of what only some devices send is too low, and nothing in the messages that arrived shows it.',
  example: {
    wrong: '`"sample_rate": 0.1`, read as all there is',
    right: 'each device sends, or the figure is a share in which both sides come from the same sample',
  },
  method:
    'The sender says in each message which share of devices sends such ones. Counts are left as they arrived: nothing is multiplied. What it weighs for a question is what it leaves out: nine messages for each that came, at a tenth. A share of people stays what it is, as long as all its events are sampled alike.',
  severity: 'stop',
  shows: 'name',
  fixer: () => 'source',
  expected: () => 'messages of all devices',
  received: ({ rate }: FromSample) => `of ${share(rate)}`,
  message: ({ rate }: FromSample) => `was sent from a sample: ${share(rate)} send it`,
  cause: ({ rate }: FromSample) => `The sender is set to send from ${share(rate)}; counts are about ${times(rate)} times too low.`,
  fix: () => 'Send this event from all devices, or ask only for shares of people, and say in the question that they are of a sample.',
  variant: ({ rate }: FromSample) => String(rate),
  missing: ({ rate }: FromSample) => 1 / rate - 1,
  compile: () => (rate) => ({ rate }),
});
