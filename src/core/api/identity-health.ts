/** `GET /api/identity-health`: How much of what arrived belongs to known persons */
import { z } from 'zod';
import type { IdentityHealth } from '../identity/health';
import { answer, endpoint } from './endpoint';

export const identityHealth = endpoint({
  method: 'GET',
  path: '/api/identity-health',
  title: 'How much of what arrived belongs to known persons',
  role: 'reader',
  answeredBy: 'analysis',
  query: z.object({ base: z.string().default('').describe('Event that containment starts from.') }),
  answer: answer<IdentityHealth>('The figures.'),
  lens: ['traffic', 'rules'],
});
