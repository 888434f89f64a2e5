/** `GET /api/alerts`: The inbox: what happened that somebody is to know */
import { z } from 'zod';
import type { InboxAlert } from '../alerts/inbox';
import type { Standing } from '../alerts/standing';
import { answer, endpoint } from './endpoint';

export interface Inbox {
  /** Open ones first, then those that are put off, then done ones; newest first. */
  readonly alerts: readonly InboxAlert[];
  /** How many are open and not put off, of all. */
  readonly open: number;
  readonly standing: Standing;
}

export const alerts = endpoint({
  method: 'GET',
  path: '/api/alerts',
  title: 'The inbox: what happened that somebody is to know',
  role: 'reader',
  query: z.object({ limit: z.coerce.number().int().min(0).max(200).default(200).describe('How many are listed; 0 for the count alone.') }),
  answer: answer<Inbox>('The newest.'),
});
