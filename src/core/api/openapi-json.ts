/** `GET /api/openapi.json`: the endpoints as an OpenAPI 3.1 document. */
import { answer, endpoint } from './endpoint';

export const openapi = endpoint({
  method: 'GET',
  path: '/api/openapi.json',
  title: 'These endpoints as an OpenAPI 3.1 document',
  role: 'anyone',
  answer: answer<Record<string, unknown>>('The document.'),
});
