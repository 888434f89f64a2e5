/** Runs the rules over a plan. */
import type { Finding } from '../findings/finding';
import { bySeverity } from '../findings/severity';
import { settingsOf, type Plan } from '../plan/plan';
import { rules } from './rules/index';
import type { Rule } from './rule';

export type LintRule = (typeof rules)[number];
export type LintCode = LintRule['id'];
export type LintFinding = Finding<LintCode, unknown>;

const byId = new Map<string, Rule<string, unknown>>(rules.map((r) => [r.id, r as unknown as Rule<string, unknown>]));

/** All findings of the plan's own rules, gravest first, then in the order of the registry.
 *  Rules that the workspace switched off and entities that it excepted are left out; its severities replace the rules' own.
 */
export const lintPlan = (plan: Plan): LintFinding[] => {
  const chosen = settingsOf(plan).rules;
  const out: LintFinding[] = [];
  for (const rule of byId.values()) {
    const set = chosen[rule.id];
    if (set?.off) continue;
    const excepted = new Set(set?.exceptions?.map((x) => `${x.kind} ${x.id}`));
    for (const hit of rule.check(plan)) {
      if (excepted.size > 0 && excepted.has(`${hit.path[0]} ${hit.path[1]}`)) continue;
      out.push({ code: rule.id as LintCode, severity: set?.severity ?? rule.severity, ...hit });
    }
  }
  return out.sort(bySeverity);
};

/** All rules, in the order of the registry. */
export const allRules: readonly Rule<string, unknown>[] = [...byId.values()];

export const ruleOf = (code: string): Rule<string, unknown> | undefined => byId.get(code);

/** The sentence of a finding. */
export const lintMessage = (f: Finding): string => byId.get(f.code)?.message(f.params) ?? f.code;

/** The label of its mend; `undefined` when there is none. */
export const lintMend = (f: Finding): string | undefined => (f.fix ? byId.get(f.code)?.mend?.(f.params) : undefined);
