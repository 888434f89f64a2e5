/** `GET /api/finding-messages`: The newest messages of a finding */
import { z } from 'zod';
import type { LiveMessage } from '../arrival/live-message';
import { answer, endpoint } from './endpoint';

export const findingMessages = endpoint({
  method: 'GET',
  path: '/api/finding-messages',
  title: 'The newest messages of a finding',
  role: 'reader',
  answeredBy: 'analysis',
  query: z.object({ key: z.string() }),
  answer: answer<readonly LiveMessage[]>('Messages, newest first.'),
  lens: ['traffic'],
  errors: { 404: 'There is no such finding.' },
});
