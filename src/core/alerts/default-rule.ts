/** The rule that a workspace begins with. */
import { ALERT_KINDS } from './kinds';
import type { AlertRule } from './rule';

export const FIRST_RULE: AlertRule = {
  name: 'What stops',
  active: true,
  // What gets better is told to whoever asks for it.
  kinds: ALERT_KINDS.filter((k) => k !== 'signal rose'),
  severity: 'caution',
  questions: [],
  events: [],
  sources: [],
  owners: [],
  by: 'inbox',
  to: '',
  pace: 'at once',
};
