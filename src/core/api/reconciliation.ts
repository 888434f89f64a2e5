/** `GET /api/reconciliation`: Client events beside what the server confirms */
import type { ReconciledPair } from '../arrival/reconciliation';
import { answer, endpoint } from './endpoint';

export const reconciliation = endpoint({
  method: 'GET',
  path: '/api/reconciliation',
  title: 'Client events beside what the server confirms',
  role: 'reader',
  answeredBy: 'analysis',
  answer: answer<readonly ReconciledPair[]>('Pairs.'),
  lens: ['traffic'],
});
