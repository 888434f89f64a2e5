/** How grave a finding is, and what a workspace changed about it. */
export const SEVERITIES = ['stop', 'caution', 'note'] as const;
export type Severity = (typeof SEVERITIES)[number];

/** What a workspace changed about a rule. */
export interface RuleSetting {
  readonly severity?: Severity;
  readonly off?: boolean;
  /** Entities for which the rule is waived, each with the reason. */
  readonly exceptions?: readonly RuleException[];
  /** Numbers of a check of what arrives that are other than its own, by name. */
  readonly parameters?: { readonly [name: string]: number };
}

export interface RuleException {
  readonly kind: string;
  readonly id: string;
  readonly reason: string;
}

export type RuleSettings = { readonly [code: string]: RuleSetting };

const RANK: Record<Severity, number> = { stop: 0, caution: 1, note: 2 };
export const bySeverity = (a: { severity: Severity }, b: { severity: Severity }): number => RANK[a.severity] - RANK[b.severity];

export const countBySeverity = (findings: readonly { severity: Severity }[]): Record<Severity, number> => {
  const n = { stop: 0, caution: 0, note: 0 };
  for (const f of findings) n[f.severity]++;
  return n;
};
