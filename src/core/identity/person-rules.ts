/** Which identifiers identify somebody: the rules of a workspace, with what its plan says of identifier kinds. */
import { entries, settingsOf, type IdentityRules, type Plan } from '../plan/plan';
import type { IdentifierNode } from '../table/nodes';
import { isPlaceholderId } from './placeholder';

export interface PersonRules extends IdentityRules {
  /** The kinds of the plan; left out where it has none, and then any kind counts. */
  readonly kinds?: readonly string[];
  /** The plan's own sample values: what is copied from it identifies nobody. */
  readonly samples?: readonly IdentifierNode[];
}

/** The rules with what the plan says; `rules` are in for its own ones. */
export const personRulesOf = (plan: Plan, rules: IdentityRules = settingsOf(plan).identity): PersonRules => {
  const kinds = entries(plan, 'identifierKind').map(([, k]) => k);
  if (kinds.length === 0) return rules;
  return {
    ...rules,
    kinds: kinds.map((k) => k.name),
    samples: kinds.flatMap((k) => (k.sample.trim() === '' ? [] : [{ kind: k.name, value: k.sample.trim() }])),
  };
};

export type Unusable = 'placeholder' | 'sample of the plan' | 'blocked' | 'kind not planned';

/** Why an identifier identifies nobody; `undefined` where it may identify somebody. */
export const unusableTest = (rules: PersonRules): ((n: IdentifierNode) => Unusable | undefined) => {
  const blocked = new Set(rules.blocked);
  const kinds = rules.kinds && new Set(rules.kinds);
  const samples = new Map<string, Set<string>>();
  for (const s of rules.samples ?? []) samples.set(s.kind, (samples.get(s.kind) ?? new Set()).add(s.value));
  return ({ kind, value }) => {
    if (kinds?.has(kind) === false) return 'kind not planned';
    if (blocked.size > 0 && blocked.has(value)) return 'blocked';
    if (!rules.placeholderGuard) return undefined;
    if (isPlaceholderId(value)) return 'placeholder';
    return samples.get(kind)?.has(value) ? 'sample of the plan' : undefined;
  };
};
