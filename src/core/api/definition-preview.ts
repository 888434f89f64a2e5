/** `POST /api/definition-preview`: What a definition would take, before it is saved */
import { z } from 'zod';
import { definitionSchema } from '../definitions/definition-schema';
import type { DefinitionPreview } from '../definitions/definition-preview';
import { answer, endpoint } from './endpoint';

export const definitionPreview = endpoint({
  method: 'POST',
  path: '/api/definition-preview',
  title: 'What a definition would take of the recorded messages, before it is saved',
  role: 'reader',
  answeredBy: 'analysis',
  body: z.object({
    id: z.string().max(100).default('').describe('ID of the definition, where it is in the plan.'),
    definition: definitionSchema,
  }),
  answer: answer<DefinitionPreview>('Counts, places, look-alikes, examples, and what it shares with other definitions.'),
  lens: ['traffic'],
  errors: { 409: 'The definition is made of itself, through others; the detail says in which order.' },
});
