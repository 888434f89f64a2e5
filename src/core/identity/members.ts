/** What each person has of identifiers. */
import type { Resolved } from './persons-otherwise';

export interface MembersOf {
  /** Person → identifiers. */
  readonly members: Int32Array;
  /** Person → 1 where a user ID is among them. */
  readonly hasUser: Uint8Array;
}

const knownMembers = new WeakMap<Resolved, MembersOf>();

export const membersOf = (persons: Resolved): MembersOf => {
  let known = knownMembers.get(persons);
  if (!known) {
    const { table, personOfNode, count } = persons;
    const members = new Int32Array(count);
    const hasUser = new Uint8Array(count);
    const { userKind, nodes } = table;
    for (let i = 0; i < personOfNode.length; i++) {
      const p = personOfNode[i]!;
      if (p < 0) continue;
      members[p]!++;
      if (nodes.kindOf(i) === userKind) hasUser[p] = 1;
    }
    knownMembers.set(persons, (known = { members, hasUser }));
  }
  return known;
};
