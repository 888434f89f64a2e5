/** Runs the rules over a plan. */
import type { Finding } from '../findings/finding';
import { applyEdits, sameValue, type Edit } from '../plan/edit';
import type { Severity } from '../findings/severity';
import { settingsOf, type Plan } from '../plan/plan';
import { rules } from './rules/index';
import type { Rule } from './rule';

export type LintRule = (typeof rules)[number];
export type LintCode = LintRule['id'];
/** A finding of a rule: its params are those of its code. */
export type LintFinding = FindingOf<LintRule>;
type FindingOf<R> = R extends Rule<infer Code, infer Params> ? Finding<Code, Params> : never;

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
      // What a rule hits has the params of that rule.
      out[severity].push({ code: rule.id, severity, path, params, ...(fix ? { fix } : {}) } as LintFinding);
    }
  }
  return [...out.stop, ...out.caution, ...out.note];
};

/** What a finding says, so that a page can show it without the rules. */
export interface LintWords {
  readonly title: string;
  readonly why: string;
  /** The sentence. */
  readonly text: string;
  /** Label of the fix. */
  readonly fix: string | undefined;
}

/** A finding as it is shown: its fix is known to exist, and worked out when it is asked for. Fixes can be larger than the plan. */
export type ShownFinding = ShownOf<LintFinding>;
type ShownOf<F> = F extends LintFinding ? Omit<F, 'fix'> & { readonly fixable: boolean; readonly words: LintWords } : never;

const wordsOf = (f: LintFinding): LintWords => {
  const rule = byId.get(f.code);
  return {
    title: rule?.title ?? f.code,
    why: rule?.why ?? '',
    text: lintMessage(f),
    fix: f.fix === undefined ? undefined : rule?.fix?.(f.params),
  };
};

export const withoutFix = (f: LintFinding): ShownFinding => ({
  ...(withParams(f) as ShownFinding),
  fixable: f.fix !== undefined,
  words: wordsOf(f),
});

const withParams = ({ code, severity, path, params }: LintFinding): object => ({ code, severity, path, params });

/** The edits that fix a finding as the plan is now; `undefined` when it is no longer found. */
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
export const lintMessage = (f: Pick<LintFinding, 'code' | 'params'>): string => byId.get(f.code)?.message(f.params) ?? f.code;

/** The edits that fix all findings of a rule, one after the other, since each changes what the next one is on; and how many. */
export const fixAll = (plan: Plan, code: string): { readonly edits: readonly Edit[]; readonly fixed: number } => {
  const edits: Edit[] = [];
  let current = plan;
  let fixed = 0;
  const left = (): LintFinding[] => lintPlan(current).filter((f) => f.code === code && f.fix);
  for (let found = left(), before = Infinity; found.length > 0 && found.length < before; found = left()) {
    before = found.length;
    for (const f of found) {
      const r = applyEdits(current, f.fix!);
      if (!r.ok) continue;
      current = r.plan;
      edits.push(...f.fix!);
      fixed++;
    }
  }
  return { edits, fixed };
};
