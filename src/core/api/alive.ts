/** `GET /api/alive`: Whether this process answers */
import { z } from 'zod';
import { endpoint } from './endpoint';

export const alive = endpoint({
  method: 'GET',
  path: '/api/alive',
  title: 'Whether this process answers',
  role: 'anyone',
  answer: z.object({ alive: z.literal(true) }),
});
