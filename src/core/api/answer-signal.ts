/** `GET /api/answers/{question}/signal.svg`: The signal of a question as a picture */
import { z } from 'zod';
import { answer, endpoint } from './endpoint';
import { readToken } from './answers';

export const answerSignal = endpoint({
  method: 'GET',
  path: '/api/answers/{question}/signal.svg',
  title: 'The signal of a question as a picture',
  role: 'read token',
  query: z.object({ question: z.string().min(1).max(200), token: readToken }),
  content: 'file',
  answer: answer<string>('An SVG image of 340 by 56 with the signal, its word, and the question.'),
  errors: { 401: 'No read token, or one that has ended.', 404: 'No such question.' },
});
