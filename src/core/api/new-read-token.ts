/** `POST /api/read-tokens`: Create a read token, or end one */
import { z } from 'zod';
import { author, done, endpoint } from './endpoint';

export const newReadToken = endpoint({
  method: 'POST',
  path: '/api/read-tokens',
  title: 'Create a read token, or end one',
  role: 'publisher',
  body: z.union([
    z.object({ label: z.string().trim().min(1, { error: 'Say who will read with it.' }).max(100), author }),
    z.object({ end: z.number().int().positive().describe('ID of the token to end.') }),
  ]),
  answer: z.union([z.object({ token: z.string().describe('Shown this once.') }), done]),
  errors: { 404: 'There is no such token.' },
});
