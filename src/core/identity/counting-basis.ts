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

/** Message row → person under a basis, −1 for nobody. `device only` leaves user IDs out. */
export const personsUnder = (basis: CountingBasis, table: MessageTable, rules: IdentityRules, linked: Persons): Int32Array => {
  if (basis === 'fully linked') return linked.personOfMessage;
  const apart = resolvePersons(table, { ...rules, linking: false });
  if (basis === 'user ID first') return apart.personOfMessage;
  return personsOfMessages(table, apart.personOfNode, [...table.ids.keys()].filter((k) => k !== 'user').sort());
};

/** Persons with at least one message under each basis, on the same messages.
 *  `device only` leaves user IDs out: a message that carries nothing else has no person there.
 */
export const countingBases = (table: MessageTable, rules: IdentityRules, linked: Persons = resolvePersons(table, rules)): BasisFigure[] => {
  const apart = resolvePersons(table, { ...rules, linking: false });
  const others = [...table.ids.keys()].filter((k) => k !== 'user').sort();
  const byDevice = personsOfMessages(table, apart.personOfNode, others);
  return [
    { basis: 'device only', ...distinct(byDevice) },
    { basis: 'user ID first', ...distinct(apart.personOfMessage) },
    { basis: 'fully linked', ...distinct(linked.personOfMessage) },
  ];
};
