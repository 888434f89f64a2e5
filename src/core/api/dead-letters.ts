/** `GET /api/dead-letters`: Rejected messages */
import { z } from 'zod';
import type { DeadLetter } from '../arrival/dead-letter';
import { answer, endpoint, wanted } from './endpoint';

export const deadLetters = endpoint({
  method: 'GET',
  path: '/api/dead-letters',
  title: 'Rejected messages',
  role: 'editor',
  query: z.object({ like: wanted.default('').describe('Text that they hold.') }),
  answer: answer<readonly DeadLetter[]>('The newest, newest first.'),
});
