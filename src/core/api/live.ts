/** `GET /api/live`: Messages and notices as they come */
import { z } from 'zod';
import { endpoint } from './endpoint';

export const live = endpoint({
  method: 'GET',
  path: '/api/live',
  title: 'Messages and notices as they come',
  role: 'reader',
  query: z.object({ after: z.string().optional().describe('Number of the last message that is known.') }),
  answer: z.string(),
  content: 'text/event-stream',
  errors: { 503: 'Too many pages look on.' },
});
