/** `GET /api/matrix`: Event × source × day of the last four weeks */
import type { ArrivalMatrix } from '../arrival/matrix';
import { answer, endpoint } from './endpoint';

export const matrix = endpoint({
  method: 'GET',
  path: '/api/matrix',
  title: 'Event × source × day of the last four weeks',
  role: 'reader',
  answeredBy: 'analysis',
  answer: answer<ArrivalMatrix>('The table.'),
  lens: ['traffic'],
});
