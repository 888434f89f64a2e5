/** `POST /api/keys`: Create a write key, or end one */
import { z } from 'zod';
import { done, endpoint } from './endpoint';

export const newKey = endpoint({
  method: 'POST',
  path: '/api/keys',
  title: 'Create a write key, or end one',
  role: 'publisher',
  body: z.union([
    z.object({
      sourceId: z.string().min(1),
      label: z.string().trim().min(1).max(100),
      hours: z.number().positive().max(8760).optional().describe('How long it works; for ever when left out.'),
      perMinute: z.number().int().positive().max(10_000_000).optional(),
    }),
    z.object({
      end: z.number().int().positive().describe('ID of the key to end.'),
      hours: z.number().int().min(0).max(8760).describe('How long it still works, so that another can take over without a gap.'),
    }),
  ]),
  answer: z.union([z.object({ key: z.string().describe('Shown this once.') }), done]),
  errors: { 404: 'There is no such source or key.' },
});
