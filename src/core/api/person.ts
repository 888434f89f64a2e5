/** `GET /api/person`: Identifiers of one person, and the links that join them */
import type { PersonGraph } from '../identity/person-graph';
import { answer, endpoint, identifierQuery } from './endpoint';

export const person = endpoint({
  method: 'GET',
  path: '/api/person',
  title: 'Identifiers of one person, and the links that join them',
  role: 'reader',
  answeredBy: 'analysis',
  query: identifierQuery,
  answer: answer<PersonGraph>('The graph.'),
  lens: ['traffic', 'rules'],
  errors: { 404: 'No message carries the identifier.' },
});
