import { defineGate, notJudged } from '../gate';

export const identified = defineGate({
  id: 'identified',
  asks: 'Are persons counted once?',
  judge: notJudged,
});
