/** `GET /api/identity`: Persons by each counting basis */
import type { IdentityReport } from '../identity/report';
import { answer, endpoint } from './endpoint';

export const identity = endpoint({
  method: 'GET',
  path: '/api/identity',
  title: 'Persons by each counting basis',
  role: 'reader',
  answeredBy: 'analysis',
  answer: answer<IdentityReport>('The report.'),
  lens: ['traffic', 'rules'],
});
