/** What is published: versions, each a whole plan that never changes again. */
import type { Plan } from './plan';

export interface Version {
  readonly number: number;
  readonly contentHash: string;
  readonly note: string;
  readonly author: string;
  /** UTC epoch ms. */
  readonly at: number;
}

export interface PublishedPlan extends Version {
  readonly plan: Plan;
}
