/** `GET /api/identifiers`: Identifiers that contain a text */
import { z } from 'zod';
import type { IdentifierNode } from '../table/nodes';
import { answer, endpoint, wanted } from './endpoint';

export const identifiers = endpoint({
  method: 'GET',
  path: '/api/identifiers',
  title: 'Identifiers that contain a text',
  role: 'reader',
  answeredBy: 'analysis',
  query: z.object({ like: wanted }),
  answer: answer<readonly IdentifierNode[]>('Identifiers.'),
  lens: ['traffic'],
});
