/** `POST /api/comments`: Add a comment, or settle or reopen one */
import { z } from 'zod';
import { KINDS } from '../plan/plan';
import { author, done, endpoint } from './endpoint';

export const comments = endpoint({
  method: 'POST',
  path: '/api/comments',
  title: 'Add a comment, or settle or reopen one',
  role: 'editor',
  body: z.union([
    z.object({
      kind: z.enum([...KINDS, 'proposal']),
      entityId: z.string().min(1).max(100),
      proposalId: z.string().max(100).nullable().default(null),
      body: z.string().trim().min(1, { error: 'Write the comment first.' }).max(5000),
      author,
    }),
    z.object({ id: z.number().int(), settled: z.boolean(), author }),
  ]),
  answer: z.union([z.object({ id: z.number() }), done]),
  errors: { 404: 'There is no such comment.' },
});
