/** The persons in messages that say some things otherwise: those who were there, with only the ones concerned worked out again.
 *  Long because what is asked of the messages is one question after the other about the same rows.
 */
import type { IndexColumn, Indices } from '../table/column';
import type { MessageTable } from '../table/message-table';
import type { Otherwise } from '../table/overlay';
import { find, guard } from './guards';
import { LinkSet } from './link-set';
import { messagesOfNodes, usableNodes, usersPerNode } from './node-facts';
import { rankedKinds, resolvePersons, type Persons } from './persons';
import { rowsOfDevices, stretchesOf } from './stretches';

/** Persons without the links that made them. */
export type Resolved = Omit<Persons, 'links' | 'linkCount' | 'refused'>;

interface Kinds {
  readonly a: IndexColumn;
  readonly b: IndexColumn;
}

/** So many rows before and after one are looked at first. */
const NEAR = 24;

/** Two identifiers that came side by side: of the first kind, and of the second. */
type Pair = readonly [number, number];

/** What is asked of the messages as they came: what only those carry that are left out, and what came first. */
class Looking {
  readonly gone: Uint8Array;
  private readonly nodes: number;
  private readonly length: number;
  constructor(
    private readonly table: MessageTable,
    private readonly leftOut: readonly number[],
  ) {
    this.nodes = table.nodes.length;
    this.length = table.length;
    this.gone = new Uint8Array(this.length);
    for (const row of leftOut) this.gone[row] = 1;
  }

  /** The pairs of two kinds that these rows carry; `may` is set for both ends. */
  private pairsOn(rows: readonly number[], { a, b }: Kinds, may: Uint8Array, counts: (a: number, b: number) => boolean): LinkSet {
    const pairs = new LinkSet();
    for (const row of rows) {
      const [x, y] = [a.get(row), b.get(row)];
      if (x < 0 || y < 0 || x === y || !counts(x, y)) continue;
      pairs.add(x, y, Infinity);
      may[x] = may[y] = 1;
    }
    return pairs;
  }

  /** Whether a row that came shortly before or after one, and is not left out, is such a one: what came twice mostly came close together. */
  private isNear(row: number, isSuch: (other: number) => boolean): boolean {
    for (let d = 1; d <= NEAR; d++)
      for (const other of [row - d, row + d]) if (other >= 0 && other < this.length && this.gone[other] === 0 && isSuch(other)) return true;
    return false;
  }

  /** The pairs of two kinds that only rows carry that are left out. */
  vanished(kinds: Kinds): Pair[] {
    const may = new Uint8Array(this.nodes);
    const { a: one, b: two } = kinds;
    const far = this.leftOut.filter((row) => {
      const [x, y] = [one.get(row), two.get(row)];
      return x >= 0 && y >= 0 && !this.isNear(row, (other) => one.get(other) === x && two.get(other) === y);
    });
    const pairs = this.pairsOn(far, kinds, may, () => true);
    const stays = new Uint8Array(pairs.length);
    let left = pairs.length;
    const { gone } = this;
    const [ra, rb] = [kinds.a.rawFor(this.length), kinds.b.rawFor(this.length)];
    for (let row = 0; row < this.length && left > 0; row++) {
      const a = ra[row]!;
      const b = rb[row]!;
      if (a < 0 || may[a] === 0 || b < 0 || may[b] === 0 || gone[row] === 1) continue;
      const at = pairs.find(a, b);
      if (at < 0 || stays[at] === 1) continue;
      stays[at] = 1;
      left--;
    }
    return [...stays].flatMap((is, at): Pair[] => (is === 1 ? [] : [[pairs.a[at]!, pairs.b[at]!]]));
  }

  /** The nodes of a kind that only rows carry that are left out. */
  vanishedNodes(column: IndexColumn): number[] {
    const all = messagesOfNodes(this.table);
    const without = new Map<number, number>();
    for (const row of this.leftOut) {
      const node = column.get(row);
      if (node >= 0) without.set(node, (without.get(node) ?? 0) + 1);
    }
    return [...without].flatMap(([node, n]) => (n === all[node] ? [node] : []));
  }

  /** The pairs of two kinds on these rows, of nodes that count, whose earliest message is another one in `otherwise`. */
  moved(kinds: Kinds, rows: readonly number[], counts: (node: number) => boolean, otherwise: MessageTable): Pair[] {
    const may = new Uint8Array(this.nodes);
    const pairs = this.pairsOn(rows, kinds, may, (a, b) => counts(a) || counts(b));
    if (pairs.length === 0) return [];
    const was = new Float64Array(pairs.length).fill(Infinity);
    const is = was.slice();
    const [ra, rb] = [kinds.a.rawFor(this.length), kinds.b.rawFor(this.length)];
    for (let row = 0; row < this.length; row++) {
      const a = ra[row]!;
      const b = rb[row]!;
      if (a < 0 || may[a] === 0 || b < 0 || may[b] === 0) continue;
      const at = pairs.find(a, b);
      if (at < 0) continue;
      was[at] = Math.min(was[at]!, this.table.time.get(row));
      if (this.gone[row] === 0) is[at] = Math.min(is[at]!, otherwise.time.get(row));
    }
    return [...was].flatMap((first, at): Pair[] => (first === is[at] ? [] : [[pairs.a[at]!, pairs.b[at]!]]));
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

/** The identifiers of some persons, `own`, put together anew, out of the messages as they are otherwise. Shape: node → person, the new ones behind the others. */
const joinedAnew = (before: Persons, own: Uint8Array, gone: Uint8Array, table: MessageTable): Pick<Persons, 'personOfNode' | 'count'> => {
  const { rules, table: from } = before;
  const n = before.personOfNode.length;
  const links = new LinkSet();
  const time = table.time.raw;
  for (const [kindA, kindB] of rules.links) {
    const [ca, cb] = [from.ids.get(kindA), from.ids.get(kindB)].map((c): Indices | undefined => c?.rawFor(from.length));
    if (!ca || !cb) continue;
    for (let row = 0; row < gone.length; row++) {
      const [a, b] = [ca[row]!, cb[row]!];
      if (a < 0 || own[a] === 0 || b < 0 || a === b || own[b] === 0 || gone[row] === 1) continue;
      links.add(Math.min(a, b), Math.max(a, b), time[row]!);
    }
  }
  const parent = Int32Array.from({ length: n }, (_, i) => i);
  for (let i = 0; i < links.length; i++) {
    const [a, b] = [find(parent, links.a[i]!), find(parent, links.b[i]!)];
    if (a < b) parent[b] = a;
    else if (b < a) parent[a] = b;
  }
  guard(from, rules, parent, links);
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

/** Rows that carry any of some nodes. */
const rowsWith = (table: MessageTable, nodes: Uint8Array): number[] => {
  const found = new Uint8Array(table.length);
  for (const column of table.ids.values()) {
    const raw = column.rawFor(table.length);
    for (let row = 0; row < found.length; row++) if (raw[row]! >= 0 && nodes[raw[row]!] === 1) found[row] = 1;
  }
  const out: number[] = [];
  for (let row = 0; row < found.length; row++) if (found[row] === 1) out.push(row);
  return out;
};

/** The persons in `table`, which is the table of `before` with something said otherwise.
 *  Shape: as `resolvePersons(table, before.rules)` gives, but for the numbers of persons, of which some may be nobody's. Identifiers that no message
 *  carries any longer are nobody.
 *  Cost: a few passes over columns of identifiers. All is worked out again only where a device ceases to be a shared one.
 */
export const personsOtherwise = (before: Persons, table: MessageTable, { leftOut, times, names }: Omit<Otherwise, 'values'>): Resolved => {
  const { rules, table: from, shared } = before;
  const left = [...leftOut];
  const looking = new Looking(from, left);
  const { gone } = looking;
  const columns = [...from.ids.values()];
  const user = from.ids.get(from.userKind);
  const others = columns.filter((c) => c !== user);
  const several = severalIn(before).usersOf;
  const usersOf = new Map(several);
  for (const column of user && left.length > 0 && several.size > 0 ? others : [])
    for (const [node, lost] of looking.vanished({ a: column, b: user! })) {
      const known = usersOf.get(node);
      if (!known?.has(lost)) continue;
      const still = new Set([...known].filter((u) => u !== lost));
      const limit = rules.sharedDeviceUsers;
      if (limit > 0 && known.size > limit && still.size <= limit) return resolvePersons(table, rules);
      if (still.size > 1) usersOf.set(node, still);
      else usersOf.delete(node);
    }
  const touched = [...left, ...times.keys()];
  const concerned = new Set<number>();
  const isApart = new Set(before.refused.flatMap(({ link }) => [before.personOfNode[link.a]!, before.personOfNode[link.b]!]));
  for (const [kindA, kindB] of rules.linking ? rules.links : []) {
    const [a, b] = [from.ids.get(kindA), from.ids.get(kindB)];
    if (!a || !b) continue;
    const pairs = looking.vanished({ a, b });
    if (isApart.size > 0) pairs.push(...looking.moved({ a, b }, touched, (node) => isApart.has(before.personOfNode[node]!), table));
    for (const pair of pairs) {
      const ends = pair.map((node) => before.personOfNode[node]!);
      // What identifies nobody links nothing.
      if (ends.every((p) => p >= 0)) for (const p of ends) concerned.add(p);
    }
  }
  const vanished = left.length > 0 ? columns.flatMap((column) => looking.vanishedNodes(column)) : [];
  const own = new Uint8Array(before.personOfNode.length);
  if (concerned.size > 0) {
    const among = closure(before, concerned);
    before.personOfNode.forEach((p, i) => (own[i] = Number(among.has(p))));
  }
  const joined = concerned.size > 0 ? joinedAnew(before, own, gone, table) : before;
  const personOfNode = vanished.length > 0 && joined === before ? before.personOfNode.slice() : joined.personOfNode;
  for (const node of vanished) personOfNode[node] = -1;

  // Whose messages are: those of persons that were put together anew, and what a device with several user IDs sent, told by all that it sent, in order.
  const personOfMessage = before.personOfMessage.slice();
  const again = concerned.size > 0 ? rowsWith(from, own) : [];
  const devices = new Set<number>();
  const isSignOut = (name: string): boolean => rules.signOutEvents.includes(name);
  if (several.size > 0 && rules.linking)
    if ([...names].some((pair) => pair.some(isSignOut))) for (const node of several.keys()) devices.add(node);
    else for (const rows of [touched, again]) for (const row of rows) for (const c of others) if (several.has(c.get(row))) devices.add(c.get(row)); // prettier-ignore
  const rowsOf = devices.size > 0 ? beside(from, severalIn(before), devices) : new Map<number, number[]>();
  const ranked = rankedKinds(from).map((kind) => from.ids.get(kind)!);
  const byIdentifiers = (row: number): number => {
    for (const c of ranked) if (c.get(row) >= 0 && personOfNode[c.get(row)]! >= 0) return personOfNode[c.get(row)]!;
    return -1;
  };
  for (const rows of [again, ...rowsOf.values()]) for (const row of rows) personOfMessage[row] = byIdentifiers(row);
  for (const row of left) personOfMessage[row] = -1;
  if (rowsOf.size > 0) {
    const kept = [...rowsOf].filter(([node]) => usersOf.has(node)).map(([node, rows]): [number, number[]] => [node, rows.filter((row) => gone[row] === 0)]); // prettier-ignore
    stretchesOf(table, rules, new Map(kept), { personOfNode, personOfMessage, shared: new Set(shared) });
  }
  return { table, rules, lineage: {}, personOfNode, personOfMessage, count: joined.count, shared };
};

interface Several {
  /** Rows of the table that were looked at. */
  readonly length: number;
  readonly usersOf: ReadonlyMap<number, ReadonlySet<number>>;
  /** Worked out when it is asked for; the lists are not to be changed. */
  readonly rows: ReadonlyMap<number, number[]>;
}

const known = new WeakMap<Persons, Several>();

/** Devices of several user IDs, with the rows of each: what one correction asks the next one does, too. */
const severalIn = (of: Persons): Several => {
  const { table, rules } = of;
  let made = known.get(of);
  if (made?.length !== table.length) {
    const usersOf = usersPerNode(table, usableNodes(table, rules));
    let rows: Map<number, number[]> | undefined;
    known.set(of, (made = { length: table.length, usersOf, get rows() { return (rows ??= rowsOfDevices(table, usersOf.keys())); } })); // prettier-ignore
  }
  return made;
};

/** Devices, and all others of several user IDs that come beside them, and so on: whose messages are hangs on all of them. Each with its rows. */
const beside = (table: MessageTable, { usersOf: several, rows: all }: Several, devices: Set<number>): Map<number, number[]> => {
  const others = [...table.ids].filter(([kind]) => kind !== table.userKind).map(([, c]) => c);
  for (;;) {
    const rowsOf = new Map([...devices].flatMap((node): [number, number[]][] => (all.has(node) ? [[node, all.get(node)!]] : [])));
    const { size } = devices;
    for (const rows of rowsOf.values())
      for (const row of rows) for (const c of others) if (several.has(c.get(row))) devices.add(c.get(row));
    if (devices.size === size) return rowsOf;
  }
};
