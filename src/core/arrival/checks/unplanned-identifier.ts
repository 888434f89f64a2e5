import { entries } from '../../plan/plan';
import { defineMessageCheck } from '../check';

const MAX_NAME = 200;

export interface UnplannedIdentifier {
  readonly kind: string;
  readonly planned: readonly string[];
}

export const unplannedIdentifier = defineMessageCheck({
  id: 'unplanned-identifier',
  on: 'unplanned kind',
  title: 'Identifier kind that is not planned',
  why: 'Nobody has said whom it identifies or what it may link to, so it makes no person and links nothing.',
  example: { wrong: '`"ids": {"session": "s-1"}`, a kind that the plan does not have', right: '`"ids": {"anonymous": "a-71f3"}`' },
  severity: 'caution',
  shows: 'ids',
  fixer: (p: UnplannedIdentifier) => (p.planned.length === 0 ? 'plan' : 'source'),
  expected: (p: UnplannedIdentifier) => `one of ${p.planned.join(', ')}`,
  received: (p: UnplannedIdentifier) => p.kind,
  message: (p: UnplannedIdentifier) => `came with an identifier of the kind \`${p.kind}\`, which the plan does not have`,
  cause: () => 'The source calls an identifier by another name, or sends one that nobody asked for.',
  fix: (p: UnplannedIdentifier) => `Send it under the planned kind, or add \`${p.kind}\` to the identifier kinds.`,
  compile(plan) {
    const planned = entries(plan, 'identifierKind').map(([, k]) => k.name);
    return planned.length === 0 ? undefined : (kind) => ({ kind: kind.slice(0, MAX_NAME), planned });
  },
});
