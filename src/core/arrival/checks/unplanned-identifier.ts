import { defineMessageCheck } from '../check';

export interface UnplannedIdentifier {
  readonly kind: string;
  readonly planned: readonly string[];
}

export const unplannedIdentifier = defineMessageCheck({
  id: 'unplanned-identifier',
  on: 'message',
  title: 'Identifier kind that is not planned',
  why: 'Nobody has said whom it identifies or what it may link to, so it makes no person and links nothing.',
  severity: 'caution',
  shows: 'ids',
  mender: (p: UnplannedIdentifier) => (p.planned.length === 0 ? 'plan' : 'source'),
  expected: (p: UnplannedIdentifier) => `one of ${p.planned.join(', ')}`,
  received: (p: UnplannedIdentifier) => p.kind,
  message: (p: UnplannedIdentifier) => `came with an identifier of the kind \`${p.kind}\`, which the plan does not have`,
  cause: () => 'The source calls an identifier by another name, or sends one that nobody asked for.',
  mend: (p: UnplannedIdentifier) => `Send it under the planned kind, or add \`${p.kind}\` to the identifier kinds.`,
});
