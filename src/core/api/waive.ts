/** `POST /api/waivers`: Answer for a gate of a question until a day, or take that back */
import { z } from 'zod';
import { GATE_IDS } from '../clearance/gate';
import { author, done, endpoint } from './endpoint';

const questionId = z.string().min(1).max(200);
const gate = z.enum(GATE_IDS);

export const waive = endpoint({
  method: 'POST',
  path: '/api/waivers',
  title: 'Answer for a gate of a question until a day, or take that back',
  role: 'publisher',
  answeredBy: 'analysis',
  body: z.union([
    z.object({
      questionId,
      gate,
      reason: z.string().trim().min(1, { error: 'Say why the gate need not hold the question up.' }).max(2000),
      until: z.number().int().positive().describe('UTC epoch ms.'),
      author,
    }),
    z.object({ questionId, gate, withdraw: z.string().trim().min(1, { error: 'Say why it is taken back.' }).max(2000), author }),
  ]),
  answer: done,
  errors: {
    404: 'The version in force has no such question, or its gate is not waived.',
    409: 'Nothing is published, or the gate neither stops the question nor waits to be judged.',
  },
});
