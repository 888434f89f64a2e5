/** The shape of “conversion” at the boundary. */
import { z } from 'zod';
import { narrowed, overDays, steps } from '../shared-schema';

export const conversionSchema = z.object({
  type: z.literal('conversion'),
  steps,
  windowMs: z.number().int().positive(),
  overDays,
  anyOrder: z.boolean().optional(),
  ...narrowed,
});
