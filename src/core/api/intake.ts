/** `POST /intake`: Send messages: one, an array, NDJSON, or CloudEvents */
import { z } from 'zod';
import { answer, endpoint } from './endpoint';

/** What became of one message. */
export type MessageAnswer =
  | { readonly index: number; readonly id: string; readonly answer: 'accepted' | 'duplicate' }
  | {
      readonly index: number;
      readonly id: string;
      readonly answer: 'accepted with findings';
      readonly findings: readonly { readonly code: string; readonly sentence: string; readonly fix: string }[];
    }
  | {
      readonly index: number;
      readonly answer: 'rejected';
      readonly reason: string;
      readonly detail: string;
    };

export interface IntakeAnswer {
  readonly accepted: number;
  readonly acceptedWithFindings: number;
  readonly duplicates: number;
  readonly rejected: number;
  readonly answers: readonly MessageAnswer[];
  readonly answersLeftOut?: number;
  /** The server's clock when it answered, UTC epoch ms, so that a sender can put its own right. */
  readonly now: number;
}

export const intake = endpoint({
  method: 'POST',
  path: '/intake',
  title: 'Send messages: one, an array, NDJSON, or CloudEvents',
  role: 'write key',
  answeredBy: 'intake',
  body: z.unknown(),
  answer: answer<IntakeAnswer>(
    'How many of each, and one answer a message; of a long NDJSON body only those that were not plainly accepted.',
  ),
  errors: {
    401: 'The write key is wrong, or has ended.',
    415: 'The media type cannot be read.',
    429: 'The limit of the key is reached; wait for `retry-after`.',
  },
});

const messageIds = z.array(z.string().min(1).max(200)).max(5000);

/** What a sender asks before it sends what another page left behind, and before it sends for the first time on a device whose clock it does not know. */
export const intakeKnown = endpoint({
  method: 'POST',
  path: '/intake/known',
  title: 'Which messages of the key’s source were taken already',
  role: 'write key',
  answeredBy: 'intake',
  body: z.union([z.object({ ids: messageIds }), messageIds]).describe('IDs of messages; none where the time alone is asked for.'),
  answer: answer<{ readonly known: readonly { readonly id: string }[]; readonly now: number } | readonly { readonly id: string }[]>(
    'Those that were taken, in any order, and the time of the server, UTC epoch ms; a plain list is answered by a list.',
  ),
  errors: { 401: 'The write key is wrong, or has ended.', 429: 'Too many wrong keys came from this address; wait for `retry-after`.' },
});
