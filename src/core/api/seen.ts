/** `GET /api/seen`: Pairs of event and source that arrived */
import type { SeenPair } from '../arrival/seen';
import { answer, endpoint } from './endpoint';

export const seen = endpoint({
  method: 'GET',
  path: '/api/seen',
  title: 'Pairs of event and source that arrived',
  role: 'reader',
  answeredBy: 'analysis',
  answer: answer<readonly SeenPair[]>('Pairs.'),
  lens: ['traffic'],
});
