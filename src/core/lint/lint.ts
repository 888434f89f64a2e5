/** Runs the rules over a plan. */
import type { Finding } from '../findings/finding';
import { applyEdits, sameValue, type Edit } from '../plan/edit';
import type { Severity } from '../findings/severity';
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
  const out: Record<Severity, LintFinding[]> = { stop: [], caution: [], note: [] };
  for (const rule of byId.values()) {
    const set = chosen[rule.id];
    if (set?.off) continue;
    const excepted = set?.exceptions ?? [];
    for (const hit of rule.check(plan)) {
      if (excepted.some((x) => x.kind === hit.path[0] && x.id === hit.path[1])) continue;
      const severity = set?.severity ?? rule.severity;
      const { path, params, fix } = hit;
      out[severity].push(
        fix ? { code: rule.id as LintCode, severity, path, params, fix } : { code: rule.id as LintCode, severity, path, params },
      );
    }
  }
  return [...out.stop, ...out.caution, ...out.note];
};

/** A finding as it is shown: its mend is known to exist, and worked out when it is asked for. Mends can be larger than the plan. */
export type ShownFinding = Omit<LintFinding, 'fix'> & { readonly mendable: boolean };

export const withoutFix = (f: LintFinding): ShownFinding => ({
  code: f.code,
  severity: f.severity,
  path: f.path,
  params: f.params,
  mendable: f.fix !== undefined,
});

/** The edits that mend a finding as the plan stands now; `undefined` when it is not found any more. */
export const fixOf = (plan: Plan, f: Pick<LintFinding, 'code' | 'path' | 'params'>): readonly Edit[] | undefined => {
  const rule = byId.get(f.code);
  const said = rule?.message(f.params);
  for (const hit of rule?.check(plan) ?? []) if (sameValue(hit.path, f.path) && rule!.message(hit.params) === said) return hit.fix;
  return undefined;
};

/** All rules, in the order of the registry. */
export const allRules: readonly Rule<string, unknown>[] = [...byId.values()];

export const ruleOf = (code: string): Rule<string, unknown> | undefined => byId.get(code);

/** The sentence of a finding. */
export const lintMessage = (f: Finding): string => byId.get(f.code)?.message(f.params) ?? f.code;

/** The label of its mend; `undefined` when there is none. */
export const lintMend = (f: ShownFinding): string | undefined => (f.mendable ? byId.get(f.code)?.mend?.(f.params) : undefined);

/** The edits that mend all findings of a rule, one after the other, since each changes what the next one stands on; and how many. */
export const mendAll = (plan: Plan, code: string): { readonly edits: readonly Edit[]; readonly mended: number } => {
  const edits: Edit[] = [];
  let current = plan;
  let mended = 0;
  const left = (): LintFinding[] => lintPlan(current).filter((f) => f.code === code && f.fix);
  for (let found = left(), before = Infinity; found.length > 0 && found.length < before; found = left()) {
    before = found.length;
    for (const f of found) {
      const r = applyEdits(current, f.fix!);
      if (!r.ok) continue;
      current = r.plan;
      edits.push(...f.fix!);
      mended++;
    }
  }
  return { edits, mended };
};
