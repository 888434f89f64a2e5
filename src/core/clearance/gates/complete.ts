import { defineGate, notJudged } from '../gate';

export const complete = defineGate({
  id: 'complete',
  asks: 'Did everything arrive?',
  judge: notJudged,
});
