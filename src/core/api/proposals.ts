/** `GET /api/proposals`: All proposals */
import type { Proposal } from '../plan/review';
import { answer, endpoint } from './endpoint';

export const proposals = endpoint({
  method: 'GET',
  path: '/api/proposals',
  title: 'All proposals',
  role: 'reader',
  answer: answer<readonly Proposal[]>('Proposals, newest first.'),
});
