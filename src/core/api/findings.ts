/** `GET /api/findings`: All findings on what arrived, grouped by cause */
import type { IntakeTotals } from '../arrival/intake-totals';
import type { TriagedFinding } from '../arrival/triage';
import { answer, endpoint } from './endpoint';

export interface Findings {
  readonly groups: readonly TriagedFinding[];
  /** Messages that count, and all that were received, whatever counts. */
  readonly messages: number;
  readonly received: number;
  /** When the checks over many messages last ran, UTC epoch ms; null while they have not, so that nothing is known of patterns. */
  readonly manyAt: number | null;
  readonly totals: readonly IntakeTotals[];
}

export const findings = endpoint({
  method: 'GET',
  path: '/api/findings',
  title: 'All findings on what arrived, grouped by cause',
  role: 'reader',
  answeredBy: 'analysis',
  answer: answer<Findings>('The findings, and how much was looked at.'),
  lens: ['traffic'],
});
