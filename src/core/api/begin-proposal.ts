/** `POST /api/proposals`: Start a proposal on the newest version */
import { z } from 'zod';
import { author, endpoint } from './endpoint';

export const beginProposal = endpoint({
  method: 'POST',
  path: '/api/proposals',
  title: 'Start a proposal on the newest version',
  role: 'editor',
  body: z.object({
    name: z.string().trim().min(1, { error: 'Give the proposal a name.' }).max(200),
    note: z.string().max(5000).default(''),
    author,
  }),
  answer: z.object({ id: z.string() }),
});
