/** Persons: connected components of identifiers, under guards. The order of arrival never matters. */
import type { IdentityRules } from '../plan/plan';
import type { MessageTable } from '../table/message-table';
import { isPlaceholderId } from './placeholder';

export type Refusal = 'two user IDs';

export interface Link {
  readonly a: number;
  readonly b: number;
  /** Event time of the earliest message that makes it, UTC epoch ms. */
  readonly firstAt: number;
}

export interface Persons {
  /** Node → person, numbered from 0; −1 for a placeholder. */
  readonly personOfNode: Int32Array;
  /** Message row → person; −1 where no identifier is usable. */
  readonly personOfMessage: Int32Array;
  readonly count: number;
  readonly links: readonly Link[];
  readonly refused: readonly { readonly link: Link; readonly why: Refusal }[];
}

const find = (parent: Int32Array, i: number): number => {
  let root = i;
  while (parent[root]! !== root) root = parent[root]!;
  while (parent[i]! !== root) {
    const next = parent[i]!;
    parent[i] = root;
    i = next;
  }
  return root;
};

/** The links that messages make, each pair once with its earliest time; unsorted. */
export const linksOf = (table: MessageTable, rules: IdentityRules, usable: Uint8Array): Link[] => {
  const earliest = new Map<number, Map<number, number>>();
  for (const [kindA, kindB] of rules.links) {
    const ca = table.ids.get(kindA);
    const cb = table.ids.get(kindB);
    if (!ca || !cb) continue;
    for (let row = 0; row < table.length; row++) {
      const a = ca.get(row);
      const b = cb.get(row);
      if (a < 0 || b < 0 || a === b || usable[a] === 0 || usable[b] === 0) continue;
      const lo = a < b ? a : b;
      const hi = a < b ? b : a;
      let of = earliest.get(lo);
      if (!of) earliest.set(lo, (of = new Map()));
      const at = table.time.get(row);
      const known = of.get(hi);
      if (known === undefined || at < known) of.set(hi, at);
    }
  }
  const links: Link[] = [];
  for (const [a, of] of earliest) for (const [b, firstAt] of of) links.push({ a, b, firstAt });
  return links;
};

/** The persons in a table of messages.
 *  Shape: see `Persons`; the table is not changed. Persons are numbered by their first node.
 *  Guards: a placeholder never links and never is a person; a link that would put more than `maxUserIds` identifiers of
 *  kind `user` into one person is refused. Links are taken by event time, then by identifier, so that the same messages
 *  in any order give the same persons.
 *  Source: union–find (Galler and Fischer 1964); guards: own design.
 */
export const resolvePersons = (table: MessageTable, rules: IdentityRules): Persons => {
  const { nodes } = table;
  const n = nodes.length;
  const usable = new Uint8Array(n).fill(1);
  if (rules.placeholderGuard) for (let i = 0; i < n; i++) if (isPlaceholderId(nodes[i]!.value)) usable[i] = 0;
  const links = rules.linking ? linksOf(table, rules, usable) : [];
  const key = (i: number): string => `${nodes[i]!.kind}\u0000${nodes[i]!.value}`;
  const keys = (l: Link): [string, string] => {
    const [x, y] = [key(l.a), key(l.b)];
    return x < y ? [x, y] : [y, x];
  };
  links.sort((p, q) => {
    if (p.firstAt !== q.firstAt) return p.firstAt - q.firstAt;
    const [p1, p2] = keys(p);
    const [q1, q2] = keys(q);
    return p1 < q1 ? -1 : p1 > q1 ? 1 : p2 < q2 ? -1 : p2 > q2 ? 1 : 0;
  });
  const parent = Int32Array.from({ length: n }, (_, i) => i);
  const users = new Int32Array(n);
  for (let i = 0; i < n; i++) if (nodes[i]!.kind === 'user') users[i] = 1;
  const refused: { link: Link; why: Refusal }[] = [];
  for (const link of links) {
    const a = find(parent, link.a);
    const b = find(parent, link.b);
    if (a === b) continue;
    if (rules.maxUserIds > 0 && users[a]! + users[b]! > rules.maxUserIds) {
      refused.push({ link, why: 'two user IDs' });
      continue;
    }
    const [to, from] = a < b ? [a, b] : [b, a];
    parent[from] = to;
    users[to] = users[to]! + users[from]!;
  }
  const personOfNode = new Int32Array(n).fill(-1);
  const numberOfRoot = new Int32Array(n).fill(-1);
  let count = 0;
  for (let i = 0; i < n; i++) {
    if (usable[i] === 0) continue;
    const root = find(parent, i);
    if (numberOfRoot[root]! < 0) numberOfRoot[root] = count++;
    personOfNode[i] = numberOfRoot[root]!;
  }
  return { personOfNode, personOfMessage: personsOfMessages(table, personOfNode, rankedKinds(table)), count, links, refused };
};

/** The kinds in the order in which they speak for a message: the user ID first, then by name. */
const rankedKinds = (table: MessageTable): string[] =>
  [...table.ids.keys()].sort((a, b) => Number(b === 'user') - Number(a === 'user') || (a < b ? -1 : 1));

/** For each message the person of the first of `kinds` that it carries and that is usable. */
export const personsOfMessages = (table: MessageTable, personOfNode: Int32Array, kinds: readonly string[]): Int32Array => {
  const out = new Int32Array(table.length).fill(-1);
  for (const kind of [...kinds].reverse()) {
    const column = table.ids.get(kind);
    if (!column) continue;
    for (let row = 0; row < table.length; row++) {
      const node = column.get(row);
      const person = node < 0 ? -1 : personOfNode[node]!;
      if (person >= 0) out[row] = person;
    }
  }
  return out;
};
