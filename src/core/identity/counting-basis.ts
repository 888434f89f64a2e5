/** Counting bases: the same messages, counted by device, by user ID first, and fully linked. */
import { canonicalJson } from '../plan/content-hash';
import { GrowingBits } from '../table/bitset';
import { following } from '../table/following';
import { followingPersons, type Attributed } from '../table/following-persons';
import type { MessageTable } from '../table/message-table';
import { bitsAfter } from '../table/renumbering';
import { usableNodes } from './node-facts';
import type { PersonRules } from './person-rules';
import { rankedKinds } from './persons';
import type { Resolved } from './persons-otherwise';

export const COUNTING_BASES = ['device only', 'user ID first', 'fully linked'] as const;
export type CountingBasis = (typeof COUNTING_BASES)[number];

export interface BasisFigure {
  readonly basis: CountingBasis;
  readonly persons: number;
  /** Messages that no person could be found for on this basis. */
  readonly unattributed: number;
}

type ByBasis = { readonly [B in CountingBasis]: Attributed };

const MAX_RULES = 4;

interface Apart {
  of: Int32Array;
  readonly lineage: object;
}

interface Kinds {
  readonly rules: PersonRules;
  /** In the order in which they speak for a message. */
  readonly kinds: readonly string[];
  /** Nodes that identify nobody, whatever the rules say. */
  readonly without: readonly number[];
}

/** Message row → the first of its identifiers that identifies somebody, each as a person of its own. */
const apart = following(
  (): Apart => ({ of: new Int32Array(0), lineage: {} }),
  (state, table, from, to, key) => {
    const { rules, kinds, without } = JSON.parse(key) as Kinds;
    if (state.of.length < to) {
      const next = new Int32Array(to + (to >> 3) + 1024);
      next.set(state.of.subarray(0, from));
      state.of = next;
    }
    const { of } = state;
    of.fill(-1, from, to);
    const usable = usableNodes(table, rules);
    for (const node of without) usable[node] = 0;
    for (const kind of kinds) {
      const column = table.ids.get(kind)?.rawFor(to);
      if (!column) continue;
      for (let row = from; row < to; row++) {
        const node = column[row]!;
        if (node >= 0 && of[row]! < 0 && usable[node] === 1) of[row] = node;
      }
    }
  },
  // Rules, and devices that turn out to be shared, change now and then.
  MAX_RULES,
);

const apartBy = (table: MessageTable, of: Kinds): Attributed => {
  const { of: all, lineage } = apart(table, canonicalJson(of));
  return { table, personOfMessage: all.subarray(0, table.length), count: table.nodes.length, lineage };
};

/** By the persons that are fully linked, which belong to one state of a table: what goes with them is worked out once. */
const known = new WeakMap<Resolved, ByBasis>();

/** Persons under each basis, on the same messages. `device only` leaves user IDs out: every message that carries a device counts for
 *  it, also where several people use it; one that carries nothing else has no person there.
 */
export const personsByBasis = (linked: Resolved): ByBasis => {
  const before = known.get(linked);
  if (before) return before;
  const { table, rules } = linked;
  const ranked = rankedKinds(table);
  let [devices, users]: (Attributed | undefined)[] = [];
  // Each is worked out when it is asked for; most ask for the linked ones alone.
  const by: ByBasis = {
    // A device that several people use is one device all the same.
    get 'device only'() {
      return (devices ??= apartBy(table, { rules, kinds: ranked.filter((k) => k !== table.userKind), without: [] }));
    },
    get 'user ID first'() {
      return (users ??= apartBy(table, { rules, kinds: ranked, without: linked.shared }));
    },
    'fully linked': linked,
  };
  known.set(linked, by);
  return by;
};

const distinct = followingPersons(
  () => ({ seen: new GrowingBits(), unattributed: 0 }),
  (state, { personOfMessage }, from, to) => {
    for (let row = from; row < to; row++) {
      const p = personOfMessage[row]!;
      if (p < 0) state.unattributed++;
      else state.seen.add(p);
    }
    return true;
  },
  undefined,
  (state, _people, by) => {
    state.seen = bitsAfter(state.seen, by);
    return true;
  },
);

/** Persons with at least one message under each basis, on the same messages. */
export const countingBases = (linked: Resolved): BasisFigure[] => {
  const by = personsByBasis(linked);
  return COUNTING_BASES.map((basis) => {
    const { seen, unattributed } = distinct(by[basis]);
    return { basis, persons: seen.size, unattributed };
  });
};
