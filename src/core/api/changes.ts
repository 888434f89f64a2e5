/** `GET /api/changes`: How the draft, or a version, differs from the version before it */
import { z } from 'zod';
import type { Change } from '../plan/diff';
import { answer, endpoint, whole } from './endpoint';

export const changes = endpoint({
  method: 'GET',
  path: '/api/changes',
  title: 'How the draft, or a version, differs from the version before it',
  role: 'reader',
  query: z.object({ version: whole.optional() }),
  answer: answer<readonly Change[]>('The changes, entity by entity.'),
  errors: { 404: 'There is no such version.' },
});
