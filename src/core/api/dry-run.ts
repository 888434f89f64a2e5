/** `POST /api/dry-run`: What publishing would do to findings, persons and figures */
import { z } from 'zod';
import type { DryRun } from '../scenario/dry-run';
import { answer, endpoint } from './endpoint';

/** Of all history where neither is given. */
export const STRETCH = {
  from: z.string().max(10).optional().describe('First day of the stretch, such as 2026-11-02, in the time zone of the plan in force.'),
  through: z.string().max(10).optional().describe('Its last day.'),
};

export const dryRun = endpoint({
  method: 'POST',
  path: '/api/dry-run',
  title: 'What publishing would do to findings, persons and figures, over the recorded messages',
  role: 'reader',
  answeredBy: 'analysis',
  body: z.object({
    proposal: z.string().max(100).optional().describe('A proposal instead of the draft.'),
    ...STRETCH,
    edits: z.array(z.unknown()).max(10_000).default([]).describe('Edits on top of it, such as a definition that is being written.'),
  }),
  answer: answer<DryRun>('Compared with the version in force.'),
  content: 'application/x-ndjson',
  lens: ['traffic'],
  errors: {
    400: 'A day of the stretch is none, or it ends before it begins.',
    404: 'There is no such proposal.',
    409: 'Nothing is published to compare with, or the edits do not fit.',
  },
});
