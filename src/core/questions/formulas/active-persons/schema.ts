/** The shape of “active persons” at the boundary. */
import { z } from 'zod';
import { narrowed, period, step } from '../shared-schema';

export const activePersonsSchema = z.object({
  type: z.literal('active persons'),
  events: z.array(step).max(50),
  period,
  rollingDays: z.number().int().min(2).max(366).optional(),
  ...narrowed,
});
