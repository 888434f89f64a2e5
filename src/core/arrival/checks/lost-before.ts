import { defineMessageCheck } from '../check';

export interface LostBefore {
  /** Messages that the sender let go before this one. */
  readonly count: number;
}

const many = (n: number): string => `${n.toLocaleString('en-GB')} ${n === 1 ? 'message' : 'messages'}`;

export const lostBefore = defineMessageCheck({
  id: 'lost-before',
  on: 'lost before',
  title: 'Lost on the device',
  why: 'What a device let go is in no figure, and never comes.',
  example: { wrong: '`"dropped_before": 120`', right: 'a device that is offline for days keeps all that waits' },
  method: 'The sender counts what it let go and says it in the next message. Which events these were is not known.',
  severity: 'caution',
  shows: 'name',
  fixer: () => 'source',
  expected: () => 'nothing let go',
  received: ({ count }: LostBefore) => many(count),
  message: ({ count }: LostBefore) => `says that ${many(count)} before it ${count === 1 ? 'was' : 'were'} let go on the device`,
  cause: () => 'More waited on the device than it may keep, or what the application does with each message before it is sent failed.',
  fix: () => 'Raise `maxWaiting` of the sender, send more often, and look at what `onTrouble` is told.',
  variant: () => '',
  compile: () => (count) => ({ count }),
});
