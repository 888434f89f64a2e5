/** `GET /api/health`: Whether this process can serve: the database answers, and what is recorded is loaded */
import { z } from 'zod';
import { endpoint } from './endpoint';

export const health = endpoint({
  method: 'GET',
  path: '/api/health',
  title: 'Whether this process can serve: the database answers, and what is recorded is loaded',
  role: 'anyone',
  answer: z.object({ ok: z.literal(true), roles: z.array(z.string()), lacking: z.array(z.string()) }),
  errors: { 503: 'It cannot serve yet; the detail says what is incomplete.' },
});
