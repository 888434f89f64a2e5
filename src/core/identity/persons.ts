/** Persons: connected components of identifiers, under guards. The order of arrival never matters. */
import type { IdentityRules } from '../plan/plan';
import type { MessageTable } from '../table/message-table';
import { isPlaceholderId } from './placeholder';

export type Refusal = 'two user IDs' | 'cut';

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
  /** Nodes of devices that several people sign in on: they never link and stand for nobody. Ascending. */
  readonly shared: readonly number[];
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

/** The user IDs that came beside each identifier of another kind, where there are at least two. */
const usersPerNode = (table: MessageTable, usable: Uint8Array): Map<number, ReadonlySet<number>> => {
  const several = new Map<number, Set<number>>();
  const user = table.ids.get('user');
  if (!user) return several;
  const first = new Int32Array(table.nodes.length).fill(-1);
  for (const [kind, column] of table.ids) {
    if (kind === 'user') continue;
    for (let row = 0; row < table.length; row++) {
      const node = column.get(row);
      const u = user.get(row);
      if (node < 0 || u < 0 || usable[u] === 0) continue;
      const known = first[node]!;
      if (known < 0) first[node] = u;
      else if (known !== u) {
        const set = several.get(node);
        if (set) set.add(u);
        else several.set(node, new Set([known, u]));
      }
    }
  }
  return several;
};

/** A stretch ends by itself when a shared device is left alone for so long. */
const LEFT_ALONE_MS = 30 * 60_000;

/** Gives what devices with several user IDs sent without one to whoever was signed in: from a sign-in to the next sign-out, to the next
 *  sign-in of somebody else, or, on a shared device, until it was left alone; nobody's in between. Before the first sign-in on a device
 *  that is not shared it stays as linked: that history belongs to the first. Changes `personOfMessage`.
 */
const attributeStretches = (
  table: MessageTable,
  rules: IdentityRules,
  c: {
    readonly personOfNode: Int32Array;
    readonly personOfMessage: Int32Array;
    readonly usersOf: ReadonlyMap<number, ReadonlySet<number>>;
    readonly shared: ReadonlySet<number>;
  },
): void => {
  const user = table.ids.get('user');
  if (!user || c.usersOf.size === 0 || !rules.linking) return;
  const rowsOf = new Map<number, number[]>();
  for (const [kind, column] of table.ids) {
    if (kind === 'user') continue;
    for (let row = 0; row < table.length; row++) {
      const node = column.get(row);
      if (node < 0 || !c.usersOf.has(node)) continue;
      const rows = rowsOf.get(node);
      if (rows) rows.push(row);
      else rowsOf.set(node, [row]);
    }
  }
  const time = table.time.raw;
  const signOuts = new Set(rules.signOutEvents.map((n) => table.names.find(n)).filter((n) => n >= 0));
  // Devices in the order of their identifiers, so that a message with two of them does not depend on which came first.
  const devices = [...rowsOf].sort(([a], [b]) => (keyOf(table, a) < keyOf(table, b) ? -1 : 1));
  for (const [node, rows] of devices) {
    const isShared = c.shared.has(node);
    // At one moment a sign-in comes first and a sign-out last, whichever arrived before.
    const rank = (row: number): number => (signOuts.has(table.name.get(row)) ? 2 : user.get(row) < 0 ? 1 : 0);
    const userKey = (row: number): string => (user.get(row) < 0 ? '' : keyOf(table, user.get(row)));
    rows.sort((a, b) => time[a]! - time[b]! || rank(a) - rank(b) || (userKey(a) < userKey(b) ? -1 : userKey(a) > userKey(b) ? 1 : 0));
    let current = -2;
    let last = -Infinity;
    for (const row of rows) {
      const u = user.get(row);
      const person = u < 0 ? -1 : c.personOfNode[u]!;
      if (isShared && time[row]! - last > LEFT_ALONE_MS && current !== -2) current = -1;
      last = time[row]!;
      if (person >= 0) current = person;
      else if (current !== -2) c.personOfMessage[row] = current;
      if (signOuts.has(table.name.get(row)) && current !== -2) current = -1;
    }
  }
};

const keyOf = (table: MessageTable, i: number): string => `${table.nodes[i]!.kind}\u0000${table.nodes[i]!.value}`;

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
 *  Guards: a placeholder or a blocked identifier never links and never is a person; neither does a device that more than
 *  `sharedDeviceUsers` user IDs sign in on; a link that would put more than `maxUserIds` identifiers of kind `user`, or both ends of a
 *  cut, into one person is refused. Links are taken by event time, then by identifier, so that the same messages in any order give
 *  the same persons. What a device sends without a user ID, once several people signed in on it, is of whoever is signed in then.
 *  Source: union–find (Galler and Fischer 1964); guards: own design.
 */
export const resolvePersons = (table: MessageTable, rules: IdentityRules): Persons => {
  const { nodes } = table;
  const n = nodes.length;
  const usable = new Uint8Array(n).fill(1);
  if (rules.placeholderGuard) for (let i = 0; i < n; i++) if (isPlaceholderId(nodes[i]!.value)) usable[i] = 0;
  const blocked = new Set(rules.blocked);
  if (blocked.size > 0) for (let i = 0; i < n; i++) if (blocked.has(nodes[i]!.value)) usable[i] = 0;
  const usersOf = usersPerNode(table, usable);
  const shared = rules.sharedDeviceUsers > 0 ? [...usersOf].flatMap(([node, u]) => (u.size > rules.sharedDeviceUsers ? [node] : [])) : [];
  shared.sort((a, b) => a - b);
  for (const node of shared) usable[node] = 0;
  const links = rules.linking ? linksOf(table, rules, usable) : [];
  const key = (i: number): string => keyOf(table, i);
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
  const cuts = rules.cuts
    .map((c): [number, number] => [table.findNode(c.a.kind, c.a.value), table.findNode(c.b.kind, c.b.value)])
    .filter(([a, b]) => a >= 0 && b >= 0);
  /** Whether joining two roots would put both ends of a cut into one person. */
  const isCut = (a: number, b: number): boolean =>
    cuts.some(([x, y]) => {
      const [p, q] = [find(parent, x), find(parent, y)];
      return (p === a && q === b) || (p === b && q === a);
    });
  for (const link of links) {
    const a = find(parent, link.a);
    const b = find(parent, link.b);
    if (a === b) continue;
    if (rules.maxUserIds > 0 && users[a]! + users[b]! > rules.maxUserIds) {
      refused.push({ link, why: 'two user IDs' });
      continue;
    }
    if (cuts.length > 0 && isCut(a, b)) {
      refused.push({ link, why: 'cut' });
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
  const personOfMessage = personsOfMessages(table, personOfNode, rankedKinds(table));
  attributeStretches(table, rules, { personOfNode, personOfMessage, usersOf, shared: new Set(shared) });
  return { personOfNode, personOfMessage, count, links, refused, shared };
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
