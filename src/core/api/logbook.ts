/** `GET /api/logbook`: Everything one person sent */
import type { Logbook } from '../arrival/logbook';
import { answer, endpoint, identifierQuery } from './endpoint';

export const logbook = endpoint({
  method: 'GET',
  path: '/api/logbook',
  title: 'Everything one person sent',
  role: 'reader',
  answeredBy: 'analysis',
  query: identifierQuery,
  answer: answer<Logbook>('The logbook.'),
  lens: ['traffic'],
  errors: { 404: 'No message carries the identifier, or it identifies nobody.' },
});
