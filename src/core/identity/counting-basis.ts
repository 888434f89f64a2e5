/** Counting bases: the same messages, counted by device, by user ID first, and fully linked. */
import type { MessageTable } from '../table/message-table';
import type { PersonRules } from './person-rules';
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

/** Message row → person under each basis, −1 for nobody. `device only` leaves user IDs out: every message that carries a device counts for
 *  it, also where several people use it; one that carries nothing else has no person there.
 */
export const personsByBasis = (table: MessageTable, rules: PersonRules, linked: Persons): { readonly [B in CountingBasis]: Int32Array } => {
  const apart = resolvePersons(table, { ...rules, linking: false });
  // A device that several people use is one device all the same.
  const everyDevice = resolvePersons(table, { ...rules, linking: false, sharedDeviceUsers: 0 });
  const devices = [...table.ids.keys()].filter((k) => k !== table.userKind).sort();
  return {
    'device only': personsOfMessages(table, everyDevice.personOfNode, devices),
    'user ID first': apart.personOfMessage,
    'fully linked': linked.personOfMessage,
  };
};

/** Persons with at least one message under each basis, on the same messages. */
export const countingBases = (table: MessageTable, rules: PersonRules, linked: Persons = resolvePersons(table, rules)): BasisFigure[] => {
  const by = personsByBasis(table, rules, linked);
  return COUNTING_BASES.map((basis) => ({ basis, ...distinct(by[basis]) }));
};
