/** The shape of a trial at the boundary. */
import { z } from 'zod';
import { patternRefused } from '../plan/pattern';
import { name, names, ref, text } from '../plan/text-schema';

const pattern = text.superRefine((s, c) => {
  const refused = patternRefused(s);
  if (refused !== undefined) c.addIssue({ code: 'custom', message: refused });
});

const wanted = z.discriminatedUnion('is', [
  z.object({ is: z.literal('exactly'), value: text }),
  z.object({ is: z.literal('like'), pattern }),
  z.object({ is: z.literal('remembered'), as: name.min(1) }),
  z.object({ is: z.literal('any') }),
]);

const times = z.number().int().min(0).max(1000);

const expected = z
  .object({
    event: name,
    min: times,
    max: times,
    sources: names,
    values: z.array(z.object({ property: ref, wanted, remember: name.min(1).optional() })).max(200),
    ids: names,
  })
  .refine((e) => e.min <= e.max && e.max > 0, { error: 'At least cannot be more than at most; what must not come is listed as such.' });

export const trialSchema = z.object({
  name,
  about: text,
  flow: name,
  steps: z
    .array(
      z.object({
        id: name.min(1).max(100),
        does: text,
        expects: z.array(expected).max(100),
        forbids: names,
        inOrder: z.boolean(),
        waitMs: z.number().min(1000).max(86_400_000),
      }),
    )
    .max(200)
    .refine((all) => new Set(all.map((s) => s.id)).size === all.length, { error: 'Two steps have the same ID.' }),
  owner: name,
  retired: z.boolean(),
});
