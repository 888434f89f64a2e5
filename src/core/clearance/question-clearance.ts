/** A question's clearance beside its figure. */
import type { Figure } from '../questions/figure';
import type { Clearance, SinceWhen } from './gate';

export interface QuestionClearance extends Clearance {
  readonly questionId: string;
  /** `undefined` while the formula is not complete. */
  readonly figure: Figure | undefined;
  /** Since when it has its signal, where that was followed. */
  readonly since?: SinceWhen;
}
