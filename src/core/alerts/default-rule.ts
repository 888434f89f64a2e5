/** The rule that a workspace begins with. */
import type { AlertRule } from './rule';

export const FIRST_RULE: AlertRule = {
  name: 'What stops',
  active: true,
  kinds: [
    'signal fell',
    'finding opened',
    'finding reopened',
    'finding spread',
    'finding got worse',
    'sign-off fell',
    'volume',
    'silence',
    'limit',
    'follow-up due',
    'rejected messages',
  ],
  severity: 'caution',
  questions: [],
  events: [],
  sources: [],
  owners: [],
  by: 'inbox',
  to: '',
  pace: 'at once',
};
