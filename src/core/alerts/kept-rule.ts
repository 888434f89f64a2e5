/** A rule as it is kept. */
import type { AlertRule } from './rule';

export interface KeptRule extends AlertRule {
  readonly id: number;
  /** How often it was changed: who changes it says which one was seen. */
  readonly rev: number;
  readonly author: string;
  /** UTC epoch ms, as all instants here. */
  readonly at: number;
}
