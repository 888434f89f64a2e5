/** `POST /api/edits`: Change the draft or a proposal: all edits, or none */
import { z } from 'zod';
import { KINDS } from '../plan/plan';
import { author, endpoint } from './endpoint';

const revisions = z.partialRecord(z.enum(KINDS), z.record(z.string(), z.number()));

export const edits = endpoint({
  method: 'POST',
  path: '/api/edits',
  title: 'Change the draft or a proposal: all edits, or none',
  role: 'editor',
  body: z.object({
    edits: z.array(z.unknown()).min(1).max(60_000),
    revisions: revisions.default({}).describe('Kind → ID → revision that an edit was made on.'),
    label: z.string().max(200).default(''),
    author,
    proposal: z.string().max(100).optional().describe('The proposal to change; the draft when left out.'),
  }),
  answer: z.object({ ok: z.literal(true), change: z.number(), revisions }),
  errors: {
    404: 'There is no such proposal.',
    409: 'An edit was made on an older value; `problem` holds both values.',
    410: 'The proposal is closed.',
    422: 'It would make of the plan what it must not be: a name twice, a limit exceeded, what is registered taken back, a reference to nothing; `detail` says which.',
  },
});
