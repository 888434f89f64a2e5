/** The face of a rule over the plan. One rule a file in rules/; the registry is rules/index.ts. */
import type { Edit } from '../plan/edit';
import type { Example } from '../findings/finding';
import type { Severity } from '../findings/severity';
import type { Plan } from '../plan/plan';

export interface RuleHit<Params> {
  readonly path: readonly (string | number)[];
  readonly params: Params;
  readonly fix?: readonly Edit[];
}

export interface Rule<Code extends string = string, Params = never> {
  readonly id: Code;
  readonly title: string;
  /** Why it matters, in a sentence. */
  readonly why: string;
  readonly example: Example;
  /** How it is judged, in sentences, where the example does not say it. */
  readonly method?: string;
  readonly severity: Severity;
  /** The finding as one sentence that a person would say. */
  message(params: Params): string;
  /** Label of the one-action fix, where hits carry a fix. */
  fix?(params: Params): string;
  check(plan: Plan): Iterable<RuleHit<Params>>;
}

export const defineRule = <const Code extends string, Params>(rule: Rule<Code, Params>): Rule<Code, Params> => rule;
