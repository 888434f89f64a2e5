/** The shape of “rate of a value” at the boundary. */
import { z } from 'zod';
import { condition, narrowed, overDays, step } from '../shared-schema';

export const rateOfValueSchema = z.object({
  type: z.literal('rate of a value'),
  event: step,
  condition,
  of: z.enum(['messages', 'persons']),
  overDays,
  ...narrowed,
});
