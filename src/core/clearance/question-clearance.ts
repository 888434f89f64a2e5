/** A question's clearance beside its figure. */
import type { Figure } from '../questions/figure';
import type { Clearance } from './gate';

export interface QuestionClearance extends Clearance {
  readonly questionId: string;
  /** `undefined` while the formula is not complete. */
  readonly figure: Figure | undefined;
}
