/** `GET /api/answers`: The answers as a feed, for other people's pages */
import { z } from 'zod';
import type { Answers } from '../clearance/answer';
import { answer, endpoint } from './endpoint';

/** Of who reads from outside; in the address, or as a bearer token. */
export const readToken = z.string().max(200).default('').describe('A read token, where it is not sent as a bearer token.');

export const answers = endpoint({
  method: 'GET',
  path: '/api/answers',
  title: 'The answers as a feed, for other people’s pages',
  role: 'read token',
  query: z.object({ token: readToken }),
  answer: answer<Answers>('As of its `at`. Sent with an entity tag: who asks again with it is answered 304 while nothing changed.'),
  errors: { 401: 'No read token, or one that has ended.', 404: 'Nothing has been looked at yet.' },
});
