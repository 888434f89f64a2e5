/** The shape of “average per person” at the boundary. */
import { z } from 'zod';
import { narrowed, period, step, steps } from '../shared-schema';

export const averagePerPersonSchema = z.object({
  type: z.literal('average per person'),
  event: step,
  per: z.enum(['open', 'persons with it', 'active persons']),
  active: steps,
  period,
  ...narrowed,
});
