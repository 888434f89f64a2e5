/** `GET /api/at-message`: User properties of the person of a message, then and now */
import { z } from 'zod';
import type { ThenAndNow } from '../arrival/user-properties';
import { answer, endpoint, whole } from './endpoint';

export const atMessage = endpoint({
  method: 'GET',
  path: '/api/at-message',
  title: 'User properties of the person of a message, then and now',
  role: 'reader',
  answeredBy: 'analysis',
  query: z.object({ seq: whole }),
  answer: answer<readonly ThenAndNow[]>('User properties.'),
  lens: ['traffic'],
  errors: { 404: 'There is no such message.' },
});
