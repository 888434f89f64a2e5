/** The shape of a definition at the boundary. */
import { z } from 'zod';
import { name } from '../plan/text-schema';
import { readPattern } from '../plan/pattern';
import { NUMBER_OPERATORS, PRESENCE_OPERATORS, takesNone, takesNumber, takesSeveral, TEXT_OPERATORS, type Definition } from './definition';

const MAX_CONDITIONS = 30;
const MAX_VALUES = 200;
const MAX_TEXT = 8000;

const ref = z.union([z.string().min(1).max(200), z.array(z.string().min(1).max(200)).min(2).max(8).readonly()]);
const operand = z.union([z.string().max(MAX_TEXT), z.number(), z.boolean()]);

const subject = z.union([
  z.object({ of: z.enum(['event name', 'source', 'environment', 'release', 'page path', 'page query', 'page address']) }),
  z.object({ of: z.enum(['property', 'user property']), name: ref }),
]);

const condition = z
  .object({
    subject,
    op: z.enum([...TEXT_OPERATORS, ...NUMBER_OPERATORS, ...PRESENCE_OPERATORS]),
    values: z.array(operand).max(MAX_VALUES).readonly(),
  })
  .superRefine(({ op, values }, c) => {
    const no = (message: string): void => c.addIssue({ code: 'custom', path: ['values'], message });
    if (takesNone(op)) {
      if (values.length > 0) no(`“${op}” takes no value; remove it.`);
      return;
    }
    if (values.length === 0) no(`“${op}” lacks what it compares with.`);
    else if (!takesSeveral(op) && values.length > 1) no(`“${op}” takes one value; use “is one of” for several.`);
    const [first] = values;
    if (takesNumber(op) && typeof first !== 'number' && values.length > 0)
      no(`“${op}” compares numbers; ${JSON.stringify(first)} is none.`);
    if ((op === 'contains' || op === 'starts with' || op === 'matches') && values.length > 0 && typeof first !== 'string')
      no(`“${op}” looks into texts; ${JSON.stringify(first)} is none.`);
    if (op === 'matches' && typeof first === 'string') {
      const pattern = readPattern(first);
      if (!pattern.ok) no(pattern.detail);
    }
  })
  .readonly();

const match = z.enum(['all', 'any']);
const conditions = z.array(condition).max(MAX_CONDITIONS).readonly();

export const groupSchema = z
  .object({ match, conditions, groups: z.array(z.object({ match, conditions }).readonly()).max(MAX_CONDITIONS).readonly() })
  .readonly();

export const definitionSchema = z.object({
  name,
  source: z.union([
    // Without a name it is still open.
    z.object({ of: z.literal('events'), names: z.array(z.string().min(1).max(200)).max(MAX_CONDITIONS).readonly() }),
    z.object({ of: z.enum(['interactions', 'views']) }),
  ]),
  where: groupSchema,
  changes: z
    .array(
      z.union([
        z.object({ what: z.literal('set'), name: ref, value: operand }),
        z.object({ what: z.literal('rename'), name: ref, to: z.string().min(1).max(200) }),
        z.object({ what: z.literal('drop'), name: ref }),
      ]),
    )
    .max(MAX_CONDITIONS)
    .readonly(),
  since: z.number().int().optional(),
}) satisfies z.ZodType<Definition>;
