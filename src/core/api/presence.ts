/** `POST /api/presence`: Say where somebody is; an empty place says that they leave */
import { z } from 'zod';
import { author, done, endpoint } from './endpoint';

export const presence = endpoint({
  method: 'POST',
  path: '/api/presence',
  title: 'Say where somebody is; an empty place says that they leave',
  role: 'reader',
  body: z.object({ session: z.string().min(1).max(60), author, place: z.string().max(300) }),
  answer: done,
});
