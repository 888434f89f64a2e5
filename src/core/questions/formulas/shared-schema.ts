/** Shapes that several formulas share. */
import { z } from 'zod';
import { name, ref, text } from '../../plan/text-schema';
import { OPERATORS, PERIODS } from '../formula';

const value = z.union([text, z.number(), z.boolean()]);
export const condition = z.object({
  property: ref,
  is: value,
  op: z.enum(OPERATORS).optional(),
  of: z.literal('user property').optional(),
});
export const step = z.object({ eventName: name, where: z.array(condition).max(20) });
export const steps = z.array(step).max(20);
export const narrowed = {
  filters: z
    .array(z.object({ mode: z.enum(['leaving out', 'keeping only']), who: z.enum(['persons', 'sessions']), did: step }))
    .max(10)
    .optional(),
  groupBy: z.object({ of: z.enum(['property', 'user property']), name: ref }).optional(),
};
export const period = z.enum(PERIODS);
export const overDays = z.number().int().min(1).max(3660);
