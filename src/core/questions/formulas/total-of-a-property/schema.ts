/** The shape of “total of a property” at the boundary. */
import { z } from 'zod';
import { ref } from '../../../plan/text-schema';
import { narrowed, period, step } from '../shared-schema';

export const totalOfPropertySchema = z.object({ type: z.literal('total of a property'), event: step, property: ref, period, ...narrowed });
