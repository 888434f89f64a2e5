/** A rule as it is sent to the server. */
import type { AlertRule } from '../../../core/alerts/rule';

export const wireRule = ({ name, active, kinds, severity, questions, events, sources, owners, by, to, pace }: AlertRule) => ({
  name,
  active,
  severity,
  by,
  to,
  pace,
  kinds: [...kinds],
  questions: [...questions],
  events: [...events],
  sources: [...sources],
  owners: [...owners],
});
