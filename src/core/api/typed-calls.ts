/** `GET /api/typed-calls`: Download typed calls in TypeScript */
import { z } from 'zod';
import { endpoint } from './endpoint';

export const typedCalls = endpoint({
  method: 'GET',
  path: '/api/typed-calls',
  title: 'Download typed calls in TypeScript',
  role: 'reader',
  query: z.object({
    version: z.string().optional().describe('A number, `draft`, or nothing for the newest version.'),
    source: z.string().optional().describe('Of this source alone.'),
  }),
  answer: z.string(),
  content: 'file',
  errors: { 404: 'There is no such version or source.' },
});
