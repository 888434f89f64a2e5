/** `POST /api/publish`: Publish the draft as the next version */
import { z } from 'zod';
import { author, endpoint } from './endpoint';

export const publish = endpoint({
  method: 'POST',
  path: '/api/publish',
  title: 'Publish the draft as the next version',
  role: 'publisher',
  body: z.object({
    note: z.string().trim().min(1, { error: 'Say in a few words what changed.' }).max(2000),
    despiteCases: z.boolean().default(false).describe('Publish although cases of the identity bench fail.'),
    author,
  }),
  answer: z.object({ changed: z.literal(true), number: z.number() }),
  errors: { 409: 'Cases of the identity bench fail, or the draft says the same as the newest version.' },
});
