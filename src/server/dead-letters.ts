/** Rejected messages: looked through, corrected, sent again. */
import { deadLetters } from '../core/api/dead-letters';
import { replay } from '../core/api/replay';
import { deadLetters as newest, deadLetterSource, markReplayed } from '../db/dead-letter-store';
import { problem } from './answer';
import { database } from './context';
import { takeIn } from './intake';
import { parseLine } from './intake-body';
import { serve } from './serve';

const SHOWN = 200;

export const DEAD_LETTERS = [
  serve(deadLetters, ({ query }) => newest(database(), query.like, SHOWN)),
  // As from the same source. What is rejected again stays as it was.
  serve(replay, async ({ body: { id, text } }) => {
    const sourceId = await deadLetterSource(database(), id);
    if (sourceId === undefined) return problem(404, 'gone', 'This rejected message no longer exists.');
    const [answer] = await takeIn([parseLine(text)], sourceId, Date.now(), false);
    if (answer!.answer === 'rejected') return problem(422, answer!.reason, answer!.detail);
    await markReplayed(database(), id);
    return answer!;
  }),
];
