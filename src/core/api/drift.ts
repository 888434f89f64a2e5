/** `GET /api/drift`: What is new, and what has vanished, since a moment */
import { z } from 'zod';
import type { Drift } from '../arrival/drift';
import { answer, endpoint, whole } from './endpoint';

export const drift = endpoint({
  method: 'GET',
  path: '/api/drift',
  title: 'What is new, and what has vanished, since a moment',
  role: 'reader',
  answeredBy: 'analysis',
  query: z.object({ since: whole.positive().describe('UTC epoch ms, in the past.') }),
  answer: answer<Drift>('New and vanished.'),
  lens: ['traffic'],
});
