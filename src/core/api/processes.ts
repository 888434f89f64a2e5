/** `GET /api/processes`: Roles that no process has */
import { z } from 'zod';
import { endpoint } from './endpoint';

export const processes = endpoint({
  method: 'GET',
  path: '/api/processes',
  title: 'Roles that no process has',
  role: 'reader',
  answer: z.object({ lacking: z.array(z.string()) }),
});
