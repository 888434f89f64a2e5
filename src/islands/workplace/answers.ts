/** Answers of the server as the islands read them. */
import type { FindingGroup } from '../../core/arrival/finding-group';
import type { IntakeTotals } from '../../core/arrival/intake-totals';

export interface Findings {
  readonly groups: readonly FindingGroup[];
  readonly messages: number;
  readonly totals: readonly IntakeTotals[];
}
