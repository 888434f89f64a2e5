/** What is told of the persons under one set of rules, in the order in which it is read. */
import type { Side } from '../../core/identity/what-if';

export const PERSON_SIDES: readonly (readonly [keyof Side, string])[] = [
  ['persons', 'persons'],
  ['orphans', 'orphaned user IDs'],
  ['links', 'links'],
  ['refused', 'links refused'],
  ['unattributed', 'messages of nobody'],
  ['largest', 'identifiers in the largest person'],
];
