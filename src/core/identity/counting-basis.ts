/** Counting bases: the same messages, counted by device, by user ID first, and fully linked. */
import type { IdentityRules } from '../plan/plan';
import type { MessageTable } from '../table/message-table';
import { personsOfMessages, resolvePersons, type Persons } from './persons';

export const COUNTING_BASES = ['device only', 'user ID first', 'fully linked'] as const;
export type CountingBasis = (typeof COUNTING_BASES)[number];

export interface BasisFigure {
  readonly basis: CountingBasis;
  readonly persons: number;
  /** Messages that no person could be found for on this basis. */
  readonly unattributed: number;
}

const distinct = (of: Int32Array): { persons: number; unattributed: number } => {
  const seen = new Set<number>();
  let unattributed = 0;
  for (const p of of) {
    if (p < 0) unattributed++;
    else seen.add(p);
  }
  return { persons: seen.size, unattributed };
};

/** Message row → person under each basis, −1 for nobody. `device only` leaves user IDs out: a message that carries nothing else has no
 *  person there.
 */
export const personsByBasis = (
  table: MessageTable,
  rules: IdentityRules,
  linked: Persons,
): { readonly [B in CountingBasis]: Int32Array } => {
  const apart = resolvePersons(table, { ...rules, linking: false });
  const devices = [...table.ids.keys()].filter((k) => k !== 'user').sort();
  return {
    'device only': personsOfMessages(table, apart.personOfNode, devices),
    'user ID first': apart.personOfMessage,
    'fully linked': linked.personOfMessage,
  };
};

/** Persons with at least one message under each basis, on the same messages. */
export const countingBases = (table: MessageTable, rules: IdentityRules, linked: Persons = resolvePersons(table, rules)): BasisFigure[] => {
  const by = personsByBasis(table, rules, linked);
  return COUNTING_BASES.map((basis) => ({ basis, ...distinct(by[basis]) }));
};
