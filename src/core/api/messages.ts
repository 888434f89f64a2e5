/** `GET /api/messages`: Recorded messages with their findings */
import { z } from 'zod';
import type { LiveMessage } from '../arrival/live-message';
import { answer, endpoint, whole } from './endpoint';

export const messages = endpoint({
  method: 'GET',
  path: '/api/messages',
  title: 'Recorded messages with their findings',
  role: 'reader',
  query: z.object({
    seq: z.string().optional().describe('Up to 500 numbers with commas between them.'),
    limit: whole.catch(100).default(100).describe('How many of the newest, at most 500.'),
  }),
  answer: answer<readonly LiveMessage[]>('Messages, newest first.'),
});
