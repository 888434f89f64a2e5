import { defineGate, notJudged } from '../gate';

export const fresh = defineGate({
  id: 'fresh',
  asks: 'Does it arrive on time?',
  judge: notJudged,
});
