/** Persons: connected components of identifiers, under guards. The order of arrival never matters. */
import type { IdentityRules } from '../plan/plan';
import type { Attributed } from '../table/following-persons';
import type { MessageTable } from '../table/message-table';
import { find, guard, type Refusal } from './guards';
import { LinkSet, linksOf, type Link } from './link-set';
import type { PersonRules } from './person-rules';
import { usableNodes, usersPerNode } from './node-facts';
import { attributeStretches } from './stretches';

export interface Persons extends Attributed {
  readonly rules: PersonRules;
  /** Node → person; −1 for a placeholder. */
  readonly personOfNode: Int32Array;
  readonly links: readonly Link[];
  /** How many links there are, without putting them together. */
  readonly linkCount: number;
  readonly refused: readonly { readonly link: Link; readonly why: Refusal }[];
  /** Nodes of devices that several people sign in on: they never link and identify nobody. Ascending. */
  readonly shared: readonly number[];
}

/** The persons in a table of messages.
 *  Shape: see `Persons`; the table is not changed. Persons are numbered by their first node.
 *  Guards: a placeholder, a sample of the plan, a blocked identifier or one of a kind that is not planned never links and never is a person; neither does a device that more than
 *  `sharedDeviceUsers` user IDs sign in on; a link that would put more than `maxUserIds` identifiers of kind `user`, or both ends of a
 *  cut, into one person is refused. Links are taken by event time, then by identifier, so that the same messages in any order give
 *  the same persons. What a device sends without a user ID, once several people signed in on it, is of whoever is signed in then.
 *  Source: union–find (Galler and Fischer 1964); guards: own design. Method: all links joined in any order, then, where a guard speaks,
 *  that component anew in order.
 */
export const resolvePersons = (table: MessageTable, rules: PersonRules): Persons => {
  const { nodes } = table;
  const n = nodes.length;
  const usable = usableNodes(table, rules);
  const usersOf = usersPerNode(table, usable);
  const shared = rules.sharedDeviceUsers > 0 ? [...usersOf].flatMap(([node, u]) => (u.size > rules.sharedDeviceUsers ? [node] : [])) : [];
  shared.sort((a, b) => a - b);
  for (const node of shared) usable[node] = 0;
  const found = rules.linking ? linksOf(table, rules, usable) : new LinkSet();
  const parent = new Int32Array(n);
  for (let i = 0; i < n; i++) parent[i] = i;
  for (let i = 0; i < found.length; i++) {
    const a = find(parent, found.a[i]!);
    const b = find(parent, found.b[i]!);
    if (a < b) parent[b] = a;
    else if (b < a) parent[a] = b;
  }
  const refused = guard(table, rules, parent, found);
  const { personOfNode, count } = numbered(n, (i) => (usable[i] === 0 ? -1 : find(parent, i)));
  const links = Array.from({ length: found.length }, (_, i) => found.link(i));
  return {
    table,
    rules,
    lineage: {},
    personOfNode,
    personOfMessage: attributed(table, rules, personOfNode, usersOf, shared),
    count,
    links,
    linkCount: links.length,
    refused: refused.map(({ at, why }) => ({ link: links[at]!, why })),
    shared,
  };
};

/** Persons numbered by their first node; `rootOf` is −1 for a node that is nobody. */
export const numbered = (nodes: number, rootOf: (node: number) => number): { personOfNode: Int32Array; count: number } => {
  const personOfNode = new Int32Array(nodes).fill(-1);
  const numberOfRoot = new Int32Array(nodes).fill(-1);
  let count = 0;
  for (let i = 0; i < nodes; i++) {
    const root = rootOf(i);
    if (root < 0) continue;
    if (numberOfRoot[root]! < 0) numberOfRoot[root] = count++;
    personOfNode[i] = numberOfRoot[root]!;
  }
  return { personOfNode, count };
};

/** Message row → person, by what each message carries, and by who was signed in where a device has several user IDs. */
export const attributed = (
  table: MessageTable,
  rules: IdentityRules,
  personOfNode: Int32Array,
  usersOf: ReadonlyMap<number, ReadonlySet<number>>,
  shared: readonly number[],
): Int32Array => {
  const personOfMessage = personsOfMessages(table, personOfNode, rankedKinds(table));
  attributeStretches(table, rules, { personOfNode, personOfMessage, usersOf, shared: new Set(shared) });
  return personOfMessage;
};

/** As `personsOfMessages`, for the rows from one on; they hold −1. */
export const fillPersons = (
  out: Int32Array,
  table: MessageTable,
  personOfNode: Int32Array,
  kinds: readonly string[],
  from: number,
): void => {
  for (const kind of kinds) {
    const column = table.ids.get(kind)?.rawFor(table.length);
    if (!column) continue;
    for (let row = from; row < table.length; row++) {
      const node = column[row]!;
      if (node >= 0 && out[row]! < 0) out[row] = personOfNode[node]!;
    }
  }
};

/** The kinds in the order in which they speak for a message: the user ID first, then by name. */
export const rankedKinds = (table: MessageTable): string[] =>
  [...table.ids.keys()].sort((a, b) => Number(b === table.userKind) - Number(a === table.userKind) || (a < b ? -1 : 1));

/** For each message the person of the first of `kinds` that it carries and that is usable. */
export const personsOfMessages = (table: MessageTable, personOfNode: Int32Array, kinds: readonly string[]): Int32Array => {
  const out = new Int32Array(table.length).fill(-1);
  fillPersons(out, table, personOfNode, kinds, 0);
  return out;
};
