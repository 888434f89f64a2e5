/** `POST /api/bridge`: A question's figure as it arrived, and as it would be with what is known to be wrong put right */
import { z } from 'zod';
import type { Bridge } from '../clearance/bridge';
import { CORRECTIONS } from '../clearance/correction-names';
import { answer, endpoint } from './endpoint';

export const bridge = endpoint({
  method: 'POST',
  path: '/api/bridge',
  title: 'A question’s figure as it arrived, and as it would be with what is known to be wrong put right',
  role: 'reader',
  answeredBy: 'analysis',
  body: z.object({
    question: z.string().min(1).max(200),
    off: z
      .array(z.enum(CORRECTIONS.map((c) => c.id)))
      .default([])
      .describe('Corrections that are left out.'),
  }),
  answer: answer<Bridge>('Step by step, each on top of those before it. Nothing is stored.'),
  content: 'application/x-ndjson',
  lens: ['traffic'],
  errors: { 404: 'There is no such question.', 409: 'Nothing is published, or the question is in the draft alone.' },
});
