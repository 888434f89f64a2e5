/** `GET /api/situations`: Identifiers that each source sends in each situation */
import type { SituationRow } from '../identity/situations';
import { answer, endpoint } from './endpoint';

export const situations = endpoint({
  method: 'GET',
  path: '/api/situations',
  title: 'Identifiers that each source sends in each situation',
  role: 'reader',
  answeredBy: 'analysis',
  answer: answer<readonly SituationRow[]>('Rows.'),
  lens: ['traffic', 'rules'],
});
