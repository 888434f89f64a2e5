/** Shapes of the texts that everything is made of: what can be stored, and what can be a name. */
import { z } from 'zod';
import { MAX_WITHIN, pathOf, refOf, type PropertyRef } from './property-path';

/** What a database can keep as text. */
export const isStorable = (s: string): boolean => !s.includes('\u0000') && s.isWellFormed();
export const text = z.string().max(10_000).refine(isStorable, { error: 'A text holds no NUL and no half of a surrogate pair.' });
export const name = z
  .string()
  .max(1000)
  // eslint-disable-next-line no-control-regex
  .refine((s) => !/[\u0000-\u001f\u007f]/.test(s) && s.isWellFormed(), { error: 'A name holds no control characters.' });
export const names = z.array(name).max(10_000);
/** A path; one of a single name is kept as that name. */
export const ref = z
  .union([
    name,
    z
      .array(name)
      .min(1)
      .max(MAX_WITHIN + 1),
  ])
  .transform((r): PropertyRef => refOf(pathOf(r)));
