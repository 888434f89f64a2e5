/** `POST /api/findings`: Acknowledge a finding until a date, or reopen it */
import { z } from 'zod';
import { author, done, endpoint } from './endpoint';

const key = z.string().min(1).max(3000);

export const acknowledge = endpoint({
  method: 'POST',
  path: '/api/findings',
  title: 'Acknowledge a finding until a date, or reopen it',
  role: 'editor',
  answeredBy: 'analysis',
  body: z.union([
    z.object({
      key,
      reason: z.string().trim().min(1, { error: 'Say why it is left as it is.' }).max(2000),
      until: z.number().int().positive().describe('UTC epoch ms.'),
      assignee: z.string().trim().max(200).default(''),
      author,
    }),
    z.object({ key, open: z.literal(true), author }),
  ]),
  answer: done,
  lens: ['traffic'],
  errors: { 404: 'Nothing is found under this key now.' },
});
