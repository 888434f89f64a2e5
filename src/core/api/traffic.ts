/** `GET /api/traffic`: Messages of each environment, marked as a test and not */
import type { TrafficSeen } from '../table/traffic';
import { answer, endpoint } from './endpoint';

export const traffic = endpoint({
  method: 'GET',
  path: '/api/traffic',
  title: 'Messages of each environment, marked as a test and not',
  role: 'reader',
  answeredBy: 'analysis',
  answer: answer<readonly TrafficSeen[]>('Environments.'),
});
