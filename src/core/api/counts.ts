/** `GET /api/counts`: Messages, sessions and persons, and what timing and repeats do to them */
import { z } from 'zod';
import type { ArrivalCounts } from '../arrival/counts';
import { answer, endpoint, whole } from './endpoint';

export const counts = endpoint({
  method: 'GET',
  path: '/api/counts',
  title: 'Messages, sessions and persons, and what timing and repeats do to them',
  role: 'reader',
  answeredBy: 'analysis',
  query: z.object({ days: whole.min(1).max(36_600).catch(28).default(28).describe('How many days back.') }),
  answer: answer<ArrivalCounts>('The counts.'),
  lens: ['traffic'],
});
