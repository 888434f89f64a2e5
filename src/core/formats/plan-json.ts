/** The plan as one JSON document. */
import type { Plan } from '../plan/plan';

export const PLAN_FORMAT = 'signal-post-plan/1';

export interface PlanDocument {
  readonly format: typeof PLAN_FORMAT;
  /** 0 for a draft. */
  readonly version: number;
  readonly contentHash: string;
  readonly plan: Plan;
}

export const planJson = (plan: Plan, version: number, contentHash: string): string =>
  `${JSON.stringify({ format: PLAN_FORMAT, version, contentHash, plan } satisfies PlanDocument, null, 2)}\n`;
