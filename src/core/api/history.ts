/** `GET /api/history`: Published versions, and the newest changes of the draft */
import { z } from 'zod';
import type { LoggedChange } from '../plan/review';
import type { Version } from '../plan/version';
import { answer, endpoint, whole } from './endpoint';

export interface History {
  readonly versions: readonly Version[];
  readonly changes: readonly LoggedChange[];
  /** Whether there are changes before these. */
  readonly older: boolean;
}

export const history = endpoint({
  method: 'GET',
  path: '/api/history',
  title: 'Published versions, and the newest changes of the draft',
  role: 'reader',
  query: z.object({ before: whole.optional().describe('Changes before this one; the newest when left out.') }),
  answer: answer<History>('Versions and changes, newest first.'),
});
