/** The shape of “retention” at the boundary. */
import { z } from 'zod';
import { narrowed, overDays, step } from '../shared-schema';

export const retentionSchema = z.object({
  type: z.literal('retention'),
  start: step,
  returning: step,
  day: z.number().int().min(1).max(3660),
  mode: z.enum(['on day', 'on or after day']),
  overDays,
  ...narrowed,
});
