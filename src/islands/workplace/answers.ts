/** Answers of the server as the islands read them. */
import type { IntakeTotals } from '../../core/arrival/intake-totals';
import type { TriagedFinding } from '../../core/arrival/triage';

export interface Findings {
  readonly groups: readonly TriagedFinding[];
  /** Messages that count, and all that were received, whatever counts. */
  readonly messages: number;
  readonly received: number;
  /** When the checks over many last looked, UTC epoch ms; null before anything is published. */
  readonly manyAt: number | null;
  readonly totals: readonly IntakeTotals[];
}
