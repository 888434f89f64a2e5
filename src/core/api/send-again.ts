/** `POST /api/deliveries`: Send one again, under the same ID */
import { z } from 'zod';
import { done, endpoint } from './endpoint';

export const sendAgain = endpoint({
  method: 'POST',
  path: '/api/deliveries',
  title: 'Send one again, under the same ID',
  role: 'editor',
  answeredBy: 'analysis',
  body: z.object({ again: z.uuid() }),
  answer: done,
  errors: { 404: 'There is no such delivery.' },
});
