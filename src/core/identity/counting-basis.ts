/** Counting bases: the same messages, counted by device, by user ID first, and fully linked. */
import { canonicalJson } from '../plan/content-hash';
import { Bitset } from '../table/bitset';
import type { MessageTable } from '../table/message-table';
import { LivingPersons } from './living-persons';
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

/** `most` is more than any person's number. */
const distinct = (of: Int32Array, most: number): { persons: number; unattributed: number } => {
  const seen = new Bitset(most);
  let unattributed = 0;
  for (const p of of) {
    if (p < 0) unattributed++;
    else seen.add(p);
  }
  return { persons: seen.size, unattributed };
};

type ByBasis = { readonly [B in CountingBasis]: Int32Array };
/** By the persons that are fully linked, which belong to one state of a table: what goes with them is worked out once. */
const known = new WeakMap<Persons, { readonly rules: string; readonly by: ByBasis }>();

/** Persons without links, of tables that grow: what came since is added. */
const unlinked = new WeakMap<MessageTable, Map<string, LivingPersons>>();
const MOST_RULES = 4;

const withoutLinks = (table: MessageTable, rules: PersonRules): Persons => {
  const key = canonicalJson(rules);
  let ofTable = unlinked.get(table);
  if (!ofTable) unlinked.set(table, (ofTable = new Map()));
  let living = ofTable.get(key);
  if (!living) {
    if (ofTable.size >= MOST_RULES) ofTable.delete(ofTable.keys().next().value!);
    ofTable.set(key, (living = new LivingPersons(table, rules)));
  }
  living.follow();
  return living.persons();
};

/** Message row → person under each basis, −1 for nobody. `device only` leaves user IDs out: every message that carries a device counts for
 *  it, also where several people use it; one that carries nothing else has no person there.
 */
export const personsByBasis = (table: MessageTable, rules: PersonRules, linked: Persons): ByBasis => {
  const key = canonicalJson(rules);
  const before = known.get(linked);
  if (before?.rules === key) return before.by;
  const apart = withoutLinks(table, { ...rules, linking: false });
  // A device that several people use is one device all the same.
  const everyDevice = withoutLinks(table, { ...rules, linking: false, sharedDeviceUsers: 0 });
  const devices = [...table.ids.keys()].filter((k) => k !== table.userKind).sort();
  const by = {
    'device only': personsOfMessages(table, everyDevice.personOfNode, devices),
    'user ID first': apart.personOfMessage,
    'fully linked': linked.personOfMessage,
  };
  known.set(linked, { rules: key, by });
  return by;
};

/** Persons with at least one message under each basis, on the same messages. */
export const countingBases = (table: MessageTable, rules: PersonRules, linked: Persons = resolvePersons(table, rules)): BasisFigure[] => {
  const by = personsByBasis(table, rules, linked);
  return COUNTING_BASES.map((basis) => ({ basis, ...distinct(by[basis], table.nodes.length) }));
};
