/** `GET /api/plan.json`: Download the plan as JSON */
import { z } from 'zod';
import { endpoint } from './endpoint';

export const planJson = endpoint({
  method: 'GET',
  path: '/api/plan.json',
  title: 'Download the plan as JSON',
  role: 'reader',
  query: z.object({ version: z.string().optional() }),
  answer: z.string(),
  content: 'file',
  errors: { 404: 'There is no such version.' },
});
