/** `GET /api/schema/{event}`: Download the JSON Schema of an event */
import { z } from 'zod';
import { endpoint } from './endpoint';

export const eventSchemaFile = endpoint({
  method: 'GET',
  path: '/api/schema/{event}',
  title: 'Download the JSON Schema of an event',
  role: 'reader',
  query: z.object({ event: z.string().describe('ID of the event.') }),
  answer: z.string(),
  content: 'file',
  errors: { 404: 'There is no such event.' },
});
