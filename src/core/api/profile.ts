/** `GET /api/profile`: Profile of an event: its properties, types and values as they arrive */
import { z } from 'zod';
import type { EventProfile } from '../arrival/profile';
import { answer, endpoint } from './endpoint';

export const profile = endpoint({
  method: 'GET',
  path: '/api/profile',
  title: 'Profile of an event: its properties, types and values as they arrive',
  role: 'reader',
  answeredBy: 'analysis',
  query: z.object({ event: z.string() }),
  answer: answer<EventProfile | null>('The profile; null where no message has this name.'),
  lens: ['traffic'],
});
