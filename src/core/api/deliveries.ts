/** `GET /api/deliveries`: What was sent by webhook and mail, and what became of it */
import type { Delivery } from '../alerts/delivery';
import { answer, endpoint } from './endpoint';

export const deliveries = endpoint({
  method: 'GET',
  path: '/api/deliveries',
  title: 'What was sent by webhook and mail, and what became of it',
  role: 'reader',
  answer: answer<readonly Delivery[]>('The newest 200.'),
});
