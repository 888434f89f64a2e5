/** Answers of the server as the islands read them. */
import type { IntakeTotals } from '../../core/arrival/intake-totals';
import type { TriagedFinding } from '../../core/arrival/triage';

export interface Findings {
  readonly groups: readonly TriagedFinding[];
  readonly messages: number;
  readonly totals: readonly IntakeTotals[];
}
