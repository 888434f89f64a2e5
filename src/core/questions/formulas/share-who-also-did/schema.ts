/** The shape of “share who also did” at the boundary. */
import { z } from 'zod';
import { narrowed, overDays, step } from '../shared-schema';

export const shareWhoAlsoDidSchema = z.object({ type: z.literal('share who also did'), first: step, also: step, overDays, ...narrowed });
