/** `GET /api/volume`: Messages of each day in the last eight weeks */
import { z } from 'zod';
import type { Volume } from '../arrival/volume';
import { answer, endpoint } from './endpoint';

export const volume = endpoint({
  method: 'GET',
  path: '/api/volume',
  title: 'Messages of each day in the last eight weeks',
  role: 'reader',
  answeredBy: 'analysis',
  query: z.object({ event: z.string().optional(), source: z.string().optional() }),
  answer: answer<Volume>('Days.'),
  lens: ['traffic'],
});
