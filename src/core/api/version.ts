/** `GET /api/version`: A published version with its plan */
import { z } from 'zod';
import type { PublishedPlan } from '../plan/version';
import { answer, endpoint, whole } from './endpoint';

export const version = endpoint({
  method: 'GET',
  path: '/api/version',
  title: 'A published version with its plan',
  role: 'reader',
  query: z.object({ number: whole }),
  answer: answer<PublishedPlan>('The version.'),
  errors: { 404: 'There is no such version.' },
});
