/** `GET /api/alert-rules`: What is told to whom, by what */
import type { KeptRule } from '../alerts/kept-rule';
import { answer, endpoint } from './endpoint';

export interface AlertRules {
  readonly rules: readonly KeptRule[];
  /** Why no mail can be sent; `null` where it can. */
  readonly noMail: string | null;
  /** The stand-in receiver of webhooks, where there is one. */
  readonly receiver: string | null;
  /** The page of the stand-in mailbox, where mail ends in it. */
  readonly mailbox: string | null;
}

export const alertRules = endpoint({
  method: 'GET',
  path: '/api/alert-rules',
  title: 'What is told to whom, by what',
  role: 'reader',
  answer: answer<AlertRules>('Without the secrets of webhooks.'),
});
