/** `POST /api/dead-letters`: Send a corrected text in place of a rejected message */
import { z } from 'zod';
import type { MessageAnswer } from './intake';
import { answer, endpoint } from './endpoint';

export const replay = endpoint({
  method: 'POST',
  path: '/api/dead-letters',
  title: 'Send a corrected text in place of a rejected message',
  role: 'editor',
  body: z.object({ id: z.number().int().positive(), text: z.string().min(1).max(2_000_000) }),
  answer: answer<Extract<MessageAnswer, { readonly id: string }>>('What became of it.'),
  errors: { 404: 'There is no such rejected message.', 422: 'The text is rejected too; the detail says why.' },
});
