import { defineGate, notJudged } from '../gate';

export const settled = defineGate({
  id: 'settled',
  asks: 'Has enough time passed since the last change?',
  judge: notJudged,
});
