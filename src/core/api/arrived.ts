/** `GET /api/arrived`: Messages of each event name in the last seven days */
import { z } from 'zod';
import { endpoint } from './endpoint';

export const arrived = endpoint({
  method: 'GET',
  path: '/api/arrived',
  title: 'Messages of each event name in the last seven days',
  role: 'reader',
  answeredBy: 'analysis',
  answer: z.record(z.string(), z.number()),
  lens: ['traffic'],
});
