/** The shape of “top values” at the boundary. */
import { z } from 'zod';
import { ref } from '../../../plan/text-schema';
import { narrowed, overDays, step } from '../shared-schema';

export const topValuesSchema = z.object({
  type: z.literal('top values'),
  event: step,
  property: ref,
  measure: z.enum(['messages', 'persons', 'sum']),
  sumOf: ref.optional(),
  overDays,
  ...narrowed,
});
