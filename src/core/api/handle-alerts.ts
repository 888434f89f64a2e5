/** `POST /api/alerts`: Say of alerts that they are done, put off until a day, or open again */
import { z } from 'zod';
import { author, endpoint } from './endpoint';

export const handleAlerts = endpoint({
  method: 'POST',
  path: '/api/alerts',
  title: 'Say of alerts that they are done, put off until a day, or open again',
  role: 'reader',
  body: z.object({
    ids: z.union([z.array(z.number().int().positive()).min(1).max(1000), z.literal('all')]).describe('`all`: every one that is open.'),
    how: z.union([
      z.object({ done: z.literal(true) }),
      z.object({ open: z.literal(true) }),
      z.object({ snoozeUntil: z.number().int().positive().describe('UTC epoch ms.') }),
    ]),
    author,
  }),
  answer: z.object({ handled: z.number() }),
});
