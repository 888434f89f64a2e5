/** `POST /api/proposal`: Accept or decline a proposal */
import { z } from 'zod';
import { author, done, endpoint } from './endpoint';

export const decideProposal = endpoint({
  method: 'POST',
  path: '/api/proposal',
  title: 'Accept or decline a proposal',
  role: 'editor',
  body: z.object({
    id: z.string().max(100),
    decision: z.enum(['accepted', 'declined']),
    note: z.string().max(5000).default(''),
    author,
    choices: z
      .record(z.string(), z.enum(['proposed', 'draft']))
      .default({})
      .describe('Key of a conflict → the value that is kept.'),
  }),
  answer: done,
  errors: {
    404: 'There is no such proposal.',
    409: 'It was decided already, the draft changed, or conflicts are open; `conflicts` lists them.',
  },
});
