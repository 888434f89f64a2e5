/** `GET /api/user-properties`: User properties that arrived or are planned */
import type { UserPropertyReport } from '../arrival/user-properties';
import { answer, endpoint } from './endpoint';

export const userProperties = endpoint({
  method: 'GET',
  path: '/api/user-properties',
  title: 'User properties that arrived or are planned',
  role: 'reader',
  answeredBy: 'analysis',
  answer: answer<readonly UserPropertyReport[]>('User properties.'),
  lens: ['traffic'],
});
