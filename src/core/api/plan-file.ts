/** `GET /api/plan-file`: Download the plan */
import { z } from 'zod';
import { endpoint } from './endpoint';

export const planFile = endpoint({
  method: 'GET',
  path: '/api/plan-file',
  title: 'Download the plan',
  role: 'reader',
  query: z.object({
    format: z.string().default('json'),
    version: z.string().optional().describe('A number, `draft`, or nothing for the newest version.'),
  }),
  answer: z.string(),
  content: 'file',
  errors: { 404: 'There is no such version.' },
});
