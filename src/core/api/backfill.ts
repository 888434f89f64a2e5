/** `POST /api/backfill`: Import messages of the past, as JSON or as NDJSON of any length */
import { z } from 'zod';
import { answer, endpoint } from './endpoint';

export interface BackfillAnswer {
  readonly accepted: number;
  readonly withFindings: number;
  readonly duplicates: number;
  readonly rejected: readonly { readonly index: number; readonly detail: string }[];
  /** Where more were rejected than are listed. */
  readonly rejectedCount?: number;
}

export const backfill = endpoint({
  method: 'POST',
  path: '/api/backfill',
  title: 'Import messages of the past, as JSON or as NDJSON of any length',
  role: 'write key',
  answeredBy: 'web',
  body: z.object({ texts: z.array(z.string().max(2_000_000)).min(1).max(5000).describe('Each a message as JSON.') }),
  answer: answer<BackfillAnswer>('What became of the lines.'),
  errors: { 401: 'The write key is wrong, or has ended.' },
});
