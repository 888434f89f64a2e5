/** `POST /api/kept-runs`: Try a proposal, and keep what it would do with it */
import { z } from 'zod';
import type { DryRun } from '../scenario/dry-run';
import { answer, author, endpoint } from './endpoint';
import { STRETCH } from './dry-run';

export const keptRun = endpoint({
  method: 'POST',
  path: '/api/kept-runs',
  title: 'Try a proposal, and keep with it what publishing would do',
  role: 'editor',
  answeredBy: 'analysis',
  body: z.object({ proposal: z.string().max(100), author, ...STRETCH }),
  answer: answer<DryRun>('As it is kept.'),
  content: 'application/x-ndjson',
  lens: ['traffic'],
  errors: {
    404: 'There is no such proposal.',
    409: 'Nothing is published to compare with, or the proposal was edited while it was tried, or is decided.',
  },
});
