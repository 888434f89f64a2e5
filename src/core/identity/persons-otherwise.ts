/** The persons in messages that say some things otherwise: those who were there, with only the ones concerned worked out again.
 *  Long because what is asked of the messages is one question after the other about the same rows.
 */
import type { IndexColumn, Indices } from '../table/column';
import type { MessageTable } from '../table/message-table';
import type { Otherwise } from '../table/overlay';
import { find, guard } from './guards';
import { LinkSet } from './link-set';
import { usableNodes, usersPerNode } from './node-facts';
import { attributed, resolvePersons, type Persons } from './persons';

/** Persons without the links that made them. */
export type Resolved = Omit<Persons, 'links' | 'linkCount' | 'refused'>;

/** Two identifiers that came side by side, as one number. */
type Pair = number;

interface Kinds {
  readonly a: IndexColumn;
  readonly b: IndexColumn;
}

/** Goes through the pairs of two kinds that these rows carry, each with its row. */
const pairsOn = function* (rows: Iterable<number>, { a, b }: Kinds): Generator<readonly [row: number, a: number, b: number]> {
  for (const row of rows) {
    const [x, y] = [a.get(row), b.get(row)];
    if (x >= 0 && y >= 0 && x !== y) yield [row, x, y];
  }
};

class Looking {
  private readonly nodes: number;
  constructor(
    private readonly before: Persons,
    private readonly leftOut: ReadonlySet<number>,
  ) {
    this.nodes = before.table.nodes.length;
  }

  private pairOf(a: number, b: number): Pair {
    return a * this.nodes + b;
  }

  ends(pair: Pair): readonly [number, number] {
    return [Math.floor(pair / this.nodes), pair % this.nodes];
  }

  /** The pairs of two kinds that only rows carry that are left out. */
  vanished(kinds: Kinds): Pair[] {
    const { table } = this.before;
    const left = new Set<Pair>();
    const may = new Uint8Array(this.nodes);
    for (const [, a, b] of pairsOn(this.leftOut, kinds)) {
      left.add(this.pairOf(a, b));
      may[a] = 1;
    }
    if (left.size === 0) return [];
    const [ra, rb] = [kinds.a.rawFor(table.length), kinds.b.rawFor(table.length)];
    for (let row = 0; row < table.length && left.size > 0; row++) {
      const a = ra[row]!;
      if (a < 0 || may[a] === 0 || rb[row]! < 0 || this.leftOut.has(row)) continue;
      left.delete(this.pairOf(a, rb[row]!));
    }
    return [...left];
  }

  /** The nodes of a kind that only rows carry that are left out. */
  vanishedNodes(column: IndexColumn): number[] {
    const left = new Set<number>();
    const may = new Uint8Array(this.nodes);
    for (const row of this.leftOut) {
      const node = column.get(row);
      if (node < 0) continue;
      left.add(node);
      may[node] = 1;
    }
    if (left.size === 0) return [];
    const { length } = this.before.table;
    const raw = column.rawFor(length);
    for (let row = 0; row < length && left.size > 0; row++) {
      const node = raw[row]!;
      if (node < 0 || may[node] === 0 || this.leftOut.has(row)) continue;
      left.delete(node);
      may[node] = 0;
    }
    return [...left];
  }

  /** The pairs of two kinds among some persons whose earliest message is another one. */
  moved(kinds: Kinds, rows: Iterable<number>, isAmong: (node: number) => boolean, otherwise: MessageTable): Pair[] {
    const { table } = this.before;
    const first = new Map<Pair, { was: number; is: number }>();
    const may = new Uint8Array(this.nodes);
    for (const [, a, b] of pairsOn(rows, kinds)) {
      if (!isAmong(a) && !isAmong(b)) continue;
      first.set(this.pairOf(a, b), { was: Infinity, is: Infinity });
      may[a] = 1;
    }
    if (first.size === 0) return [];
    const [ra, rb] = [kinds.a.rawFor(table.length), kinds.b.rawFor(table.length)];
    for (let row = 0; row < table.length; row++) {
      const a = ra[row]!;
      if (a < 0 || may[a] === 0 || rb[row]! < 0) continue;
      const own = first.get(this.pairOf(a, rb[row]!));
      if (!own) continue;
      own.was = Math.min(own.was, table.time.get(row));
      if (!this.leftOut.has(row)) own.is = Math.min(own.is, otherwise.time.get(row));
    }
    return [...first].flatMap(([pair, { was, is }]) => (was === is ? [] : [pair]));
  }
}

/** All persons that are kept apart from one of these by a guard, and so on from them. */
const closure = (before: Persons, among: ReadonlySet<number>): Set<number> => {
  const beside = new Map<number, number[]>();
  const note = (p: number, q: number): void => void beside.set(p, [...(beside.get(p) ?? []), q]);
  for (const { link } of before.refused) {
    const [p, q] = [before.personOfNode[link.a]!, before.personOfNode[link.b]!];
    note(p, q);
    note(q, p);
  }
  const all = new Set(among);
  for (const p of all) for (const q of beside.get(p) ?? []) all.add(q);
  return all;
};

/** The identifiers of some persons put together anew, out of the messages as they are otherwise. Shape: node → person, the new ones behind the others. */
const joinedAnew = (before: Persons, among: ReadonlySet<number>, table: MessageTable): Pick<Persons, 'personOfNode' | 'count'> => {
  const { rules } = before;
  const n = before.personOfNode.length;
  const own = new Uint8Array(n);
  for (let i = 0; i < n; i++) own[i] = Number(among.has(before.personOfNode[i]!));
  const links = new LinkSet();
  for (const [kindA, kindB] of rules.links) {
    const [ca, cb] = [table.ids.get(kindA), table.ids.get(kindB)].map((c): Indices | undefined => c?.rawFor(table.length));
    if (!ca || !cb) continue;
    for (let row = 0; row < table.length; row++) {
      const [a, b] = [ca[row]!, cb[row]!];
      if (a >= 0 && b >= 0 && a !== b && own[a] === 1 && own[b] === 1) links.add(Math.min(a, b), Math.max(a, b), table.time.get(row));
    }
  }
  const parent = Int32Array.from({ length: n }, (_, i) => i);
  for (let i = 0; i < links.length; i++) {
    const [a, b] = [find(parent, links.a[i]!), find(parent, links.b[i]!)];
    if (a < b) parent[b] = a;
    else if (b < a) parent[a] = b;
  }
  guard(table, rules, parent, links);
  const personOfNode = before.personOfNode.slice();
  let { count } = before;
  const numberOf = new Map<number, number>();
  for (let i = 0; i < n; i++) {
    if (own[i] === 0) continue;
    const root = find(parent, i);
    let p = numberOf.get(root);
    if (p === undefined) numberOf.set(root, (p = count++));
    personOfNode[i] = p;
  }
  return { personOfNode, count };
};

/** The persons in `table`, which is the table of `before` with something said otherwise.
 *  Shape: as `resolvePersons(table, before.rules)` gives, but for the numbers of persons, of which some may be nobody's. Identifiers that no message
 *  carries any longer are nobody.
 *  Cost: a few passes over columns of identifiers. All is worked out again only where a device begins or ceases to be a shared one.
 */
export const personsOtherwise = (before: Persons, table: MessageTable, { leftOut, times, names }: Omit<Otherwise, 'values'>): Resolved => {
  const { rules, table: from } = before;
  const looking = new Looking(before, leftOut);
  const user = from.ids.get(from.userKind);
  const others = [...from.ids].filter(([kind]) => kind !== from.userKind).map(([, column]) => column);
  const usersOf = new Map(usersPerNode(from, usableNodes(from, rules)));
  for (const column of user && leftOut.size > 0 ? others : [])
    for (const pair of looking.vanished({ a: column, b: user! })) {
      const [node, gone] = looking.ends(pair);
      const known = usersOf.get(node);
      if (!known?.has(gone)) continue;
      const left = new Set([...known].filter((u) => u !== gone));
      const limit = rules.sharedDeviceUsers;
      if (limit > 0 && known.size > limit && left.size <= limit) return resolvePersons(table, rules);
      if (left.size > 1) usersOf.set(node, left);
      else usersOf.delete(node);
    }
  const concerned = new Set<number>();
  const isApart = new Set(before.refused.flatMap(({ link }) => [before.personOfNode[link.a]!, before.personOfNode[link.b]!]));
  const touched = [...leftOut, ...times.keys()];
  for (const [kindA, kindB] of rules.linking ? rules.links : []) {
    const [a, b] = [from.ids.get(kindA), from.ids.get(kindB)];
    if (!a || !b) continue;
    const pairs = looking.vanished({ a, b });
    if (isApart.size > 0) pairs.push(...looking.moved({ a, b }, touched, (node) => isApart.has(before.personOfNode[node]!), table));
    for (const pair of pairs) {
      const ends = looking.ends(pair).map((node) => before.personOfNode[node]!);
      // What identifies nobody links nothing.
      if (ends.every((p) => p >= 0)) for (const p of ends) concerned.add(p);
    }
  }
  const joined = concerned.size > 0 ? joinedAnew(before, closure(before, concerned), table) : before;
  const vanished = [...from.ids.values()].flatMap((column) => looking.vanishedNodes(column));
  const personOfNode = vanished.length > 0 && joined === before ? before.personOfNode.slice() : joined.personOfNode;
  for (const node of vanished) personOfNode[node] = -1;
  const isSignOut = (name: string): boolean => rules.signOutEvents.includes(name);
  const several = usersPerNode(from, usableNodes(from, rules));
  // Whoever was signed in on a device with several user IDs is told by all that it sent, in order.
  const changesStretches =
    several.size > 0 &&
    (touched.some((row) => others.some((c) => several.has(c.get(row)))) || [...names].some((pair) => pair.some(isSignOut)));
  let personOfMessage: Int32Array;
  if (joined !== before || changesStretches) personOfMessage = attributed(table, rules, personOfNode, usersOf, before.shared);
  else {
    personOfMessage = before.personOfMessage.slice();
    for (const row of leftOut) personOfMessage[row] = -1;
  }
  return { table, rules, lineage: {}, personOfNode, personOfMessage, count: joined.count, shared: before.shared };
};
