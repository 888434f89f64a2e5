/** `POST /api/sign-offs`: Sign a question off for the version in force, or take that back */
import { z } from 'zod';
import { author, done, endpoint } from './endpoint';

const questionId = z.string().min(1).max(200);

export const signOff = endpoint({
  method: 'POST',
  path: '/api/sign-offs',
  title: 'Sign a question off for the version in force, or take that back',
  role: 'publisher',
  answeredBy: 'analysis',
  body: z.union([
    z.object({
      questionId,
      note: z.string().trim().min(1, { error: 'Say in a few words on what ground.' }).max(2000),
      until: z.number().int().positive().nullable().default(null).describe('UTC epoch ms; null without an end.'),
      author,
    }),
    z.object({ questionId, withdraw: z.string().trim().min(1, { error: 'Say why it is taken back.' }).max(2000), author }),
  ]),
  answer: done,
  errors: {
    404: 'The version in force has no such question, or it is not signed off.',
    409: 'Nothing is published, or a gate of the question is at stop or not judged yet.',
  },
});
