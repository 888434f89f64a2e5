/** `GET /api/arrived-names`: Names of events that arrived */
import type { ArrivedName } from '../arrival/profile';
import { answer, endpoint } from './endpoint';

export const arrivedNames = endpoint({
  method: 'GET',
  path: '/api/arrived-names',
  title: 'Names of events that arrived',
  role: 'reader',
  answeredBy: 'analysis',
  answer: answer<readonly ArrivedName[]>('Names, the most frequent first.'),
  lens: ['traffic'],
});
