/** `GET /api/alerts`: The inbox: what happened that somebody is to know */
import type { InboxAlert } from '../alerts/inbox';
import { answer, endpoint } from './endpoint';

export interface Inbox {
  /** Open ones first, then those that are put off, then done ones; newest first. */
  readonly alerts: readonly InboxAlert[];
  /** How many are open and not put off, of all. */
  readonly open: number;
}

export const alerts = endpoint({
  method: 'GET',
  path: '/api/alerts',
  title: 'The inbox: what happened that somebody is to know',
  role: 'reader',
  answer: answer<Inbox>('The newest 200.'),
});
