/** Persons that follow a growing table: a new message changes only the components that it touches.
 *  Long because following, joining and numbering share the same arrays.
 */
import type { MessageTable } from '../table/message-table';
import { goesOn } from '../table/following-persons';
import { numberAfter, renumberingOf, type Joined } from '../table/renumbering';
import { cutsIn, find, inOrder, joinInOrder, type RefusedAt } from './guards';
import { LinkSet, type Link } from './link-set';
import { LivingStretches } from './living-stretches';
import { fillPersons, numbered, personsOfMessages, rankedKinds, type Persons } from './persons';
import { unusableTest, type PersonRules } from './person-rules';

/** A component without its guards: its nodes and links as chains through the arrays, so that two are joined without walking either. */
interface Arrays {
  /** Union–find over all links that count. */
  parent: Int32Array;
  size: Int32Array;
  users: Int32Array;
  nextNode: Int32Array;
  lastNode: Int32Array;
  firstLink: Int32Array;
  lastLink: Int32Array;
  /** By root: 1 where a guard speaks. */
  speaks: Uint8Array;
  /** Union–find under the guards, for nodes of components where one speaks. */
  guarded: Int32Array;
  /** 0 for placeholders, blocked identifiers, shared devices. */
  usable: Uint8Array;
  /** The first usable user ID that came beside a node, −1 for none. */
  firstUser: Int32Array;
}

/** Of more joined components the numbers are worked out anew. */
const MAX_CARRIED = 32;

const arraysFor = (n: number): Arrays => ({
  parent: new Int32Array(n),
  size: new Int32Array(n),
  users: new Int32Array(n),
  nextNode: new Int32Array(n),
  lastNode: new Int32Array(n),
  firstLink: new Int32Array(n),
  lastLink: new Int32Array(n),
  speaks: new Uint8Array(n),
  guarded: new Int32Array(n),
  usable: new Uint8Array(n),
  firstUser: new Int32Array(n),
});

/** The persons of one table under one set of rules. `follow` takes the rows that came since; `persons` gives what `resolvePersons` would
 *  give for the whole table, links in another order.
 *  Cost: a link is taken in near constant time. Components where a guard speaks are built anew when somebody asks, and only those that
 *  changed; so is a component that loses a device which turns out to be shared.
 *  Source: union–find by size (Galler and Fischer 1964; Tarjan 1975).
 */
export class LivingPersons {
  private nodes = 0;
  private rows = 0;
  private s = arraysFor(1024);
  private readonly links = new LinkSet();
  private nextLink = new Int32Array(1024);
  private readonly dropped = new Set<number>();
  private readonly usersOf = new Map<number, Set<number>>();
  private readonly shared = new Set<number>();
  private readonly stretches: LivingStretches;
  /** Roots of components to be built anew under the guards. */
  private readonly dirty = new Set<number>();
  private readonly refused = new Map<number, readonly RefusedAt[]>();
  private readonly unusable: ReturnType<typeof unusableTest>;
  /** What was given last, and what came since that keeps it from being carried on. */
  private last: { readonly value: Persons; readonly nodes: number; readonly rows: number } | undefined;
  private anew = true;
  /** Of what is given out, while whoever was there stays who they were. */
  private lineage = {};
  /** Row → person of that lineage, with room for more. */
  private ofRows: Int32Array = new Int32Array(0);
  /** Roots that were joined since, and how many pairs were both already recorded: each of those moves numbers. */
  private merged: (readonly [number, number])[] = [];
  private mergedOld = 0;

  constructor(
    private readonly table: MessageTable,
    private readonly rules: PersonRules,
  ) {
    this.unusable = unusableTest(rules);
    this.stretches = new LivingStretches(table, rules);
  }

  /** Takes the rows that the table has more than when this was last called; how many. */
  follow(): number {
    const { table, rules } = this;
    const from = this.rows;
    this.addNodes();
    const users = table.ids.get(table.userKind);
    const others = [...table.ids].filter(([kind]) => kind !== table.userKind).map(([, column]) => column);
    const pairs = rules.links.flatMap(([a, b]) => {
      const [ca, cb] = [table.ids.get(a), table.ids.get(b)];
      return ca && cb ? [[ca, cb] as const] : [];
    });
    for (let row = from; row < table.length; row++) {
      const user = users?.get(row) ?? -1;
      if (user >= 0 && this.s.usable[user] === 1) for (const c of others) this.noteUser(c.get(row), user);
      if (!rules.linking) continue;
      // What a device with several user IDs sends is attributed by all that it sent.
      if (this.usersOf.size > 0 && !this.anew) {
        const several = others.flatMap((c) => (this.stretches.has(c.get(row)) ? [c.get(row)] : []));
        if (!this.stretches.note(row, several)) this.anew = true;
      }
      for (const [ca, cb] of pairs) {
        const a = ca.get(row);
        const b = cb.get(row);
        if (a >= 0 && b >= 0 && a !== b) this.link(Math.min(a, b), Math.max(a, b), table.time.get(row));
      }
    }
    this.rows = table.length;
    return table.length - from;
  }

  /** Puts two identifiers together, as a message of this time would. Both are nodes of the table that `follow` has seen. */
  link(a: number, b: number, time: number): void {
    const { s, links } = this;
    if (s.usable[a] === 0 || s.usable[b] === 0) return;
    const before = links.length;
    const at = links.add(a, b, time);
    if (links.length > before) return this.take(at);
    // Seen earlier than known: where a guard speaks, the order matters.
    const root = find(s.parent, a);
    if (s.speaks[root] === 1 && links.firstAt[at] === time) this.dirty.add(root);
  }

  private addNodes(): void {
    const { nodes } = this.table;
    if (nodes.length > this.s.parent.length) {
      const next = arraysFor(Math.max(nodes.length, this.s.parent.length * 2));
      for (const k of Object.keys(next) as (keyof Arrays)[]) next[k].set(this.s[k]);
      this.s = next;
    }
    for (; this.nodes < nodes.length; this.nodes++) {
      const i = this.nodes;
      this.s.usable[i] = this.unusable(nodes.get(i)) === undefined ? 1 : 0;
      this.s.firstUser[i] = -1;
      this.alone(i);
    }
  }

  /** Makes a node a component of its own. */
  private alone(i: number): void {
    const { s } = this;
    s.parent[i] = s.guarded[i] = s.lastNode[i] = i;
    s.size[i] = 1;
    s.users[i] = this.table.nodes.kindOf(i) === this.table.userKind ? 1 : 0;
    s.nextNode[i] = s.firstLink[i] = s.lastLink[i] = -1;
    s.speaks[i] = 0;
    this.dirty.delete(i);
    this.refused.delete(i);
  }

  private noteUser(node: number, user: number): void {
    if (node < 0) return;
    const first = this.s.firstUser[node]!;
    if (first < 0) this.s.firstUser[node] = user;
    if (first < 0 || first === user) return;
    let all = this.usersOf.get(node);
    if (!all) {
      // All that it sent before is looked at by who was signed in.
      this.anew = true;
      this.usersOf.set(node, (all = new Set([first])));
    }
    all.add(user);
    const limit = this.rules.sharedDeviceUsers;
    if (limit > 0 && all.size > limit && !this.shared.has(node)) this.share(node);
  }

  /** A device turned out to be shared: its component is built anew without it. */
  private share(node: number): void {
    const { s, links } = this;
    this.shared.add(node);
    this.anew = true;
    if (s.usable[node] === 0) return;
    s.usable[node] = 0;
    const root = find(s.parent, node);
    const members = [...this.nodesOf(root)];
    const own = [...this.linksOf(root)];
    for (const i of members) this.alone(i);
    for (const at of own)
      if (links.a[at] === node || links.b[at] === node) this.dropped.add(at);
      else this.take(at);
  }

  private *nodesOf(root: number): Iterable<number> {
    for (let i = root; i >= 0; i = this.s.nextNode[i]!) yield i;
  }

  private *linksOf(root: number): Iterable<number> {
    for (let at = this.s.firstLink[root]!; at >= 0; at = this.nextLink[at]!) yield at;
  }

  private take(at: number): void {
    const { s, links } = this;
    if (at >= this.nextLink.length) {
      const next = new Int32Array(Math.max(at + 1, this.nextLink.length * 2));
      next.set(this.nextLink);
      this.nextLink = next;
    }
    const a = find(s.parent, links.a[at]!);
    const b = find(s.parent, links.b[at]!);
    const [root, other] = s.size[a]! >= s.size[b]! ? [a, b] : [b, a];
    if (root !== other) {
      this.noteMerge(root, other);
      s.parent[other] = root;
      s.size[root]! += s.size[other]!;
      s.users[root]! += s.users[other]!;
      s.nextNode[s.lastNode[root]!] = other;
      s.lastNode[root] = s.lastNode[other]!;
      if (s.firstLink[other]! >= 0) {
        if (s.firstLink[root]! < 0) s.firstLink[root] = s.firstLink[other]!;
        else this.nextLink[s.lastLink[root]!] = s.firstLink[other]!;
        s.lastLink[root] = s.lastLink[other]!;
      }
      this.dirty.delete(other);
      this.refused.delete(other);
    }
    this.nextLink[at] = -1;
    if (s.firstLink[root]! < 0) s.firstLink[root] = at;
    else this.nextLink[s.lastLink[root]!] = at;
    s.lastLink[root] = at;
    if (root !== other && s.speaks[root] === 0 && (s.speaks[other] === 1 || this.guardSpeaks(root))) s.speaks[root] = 1;
    if (s.speaks[root] === 1) this.dirty.add(root);
  }

  private noteMerge(root: number, other: number): void {
    if (this.anew || !this.last) return;
    this.merged.push([root, other]);
    if (root < this.last.nodes && other < this.last.nodes) this.mergedOld++;
    if (this.mergedOld > MAX_CARRIED) this.anew = true;
  }

  private guardSpeaks(root: number): boolean {
    const { rules, s } = this;
    if (rules.maxUserIds > 0 && s.users[root]! > rules.maxUserIds) return true;
    return rules.cuts.length > 0 && cutsIn(this.table, rules).some(([a, b]) => find(s.parent, a) === root && find(s.parent, b) === root);
  }

  /** The persons as they are now. */
  persons(): Persons {
    if (this.dirty.size > 0) this.anew = true;
    const value = (this.anew ? undefined : this.carriedOn()) ?? this.madeAnew();
    this.last = { value, nodes: this.nodes, rows: this.rows };
    this.anew = false;
    this.merged = [];
    this.mergedOld = 0;
    return value;
  }

  /** The number of every person again, with a few of them joined and new ones behind: numbers follow first nodes, so those behind one that is
   *  joined move up. `undefined` where a guard speaks for what is new.
   */
  private carriedOn(): Persons | undefined {
    const { last, s, table } = this;
    if (!last) return undefined;
    const personOfNode = new Int32Array(this.nodes).fill(-1);
    personOfNode.set(last.value.personOfNode);
    let { count } = last.value;
    const joins: Joined[] = [];
    // What was given out before is a part of the same: rows are added behind it, and it is copied only where somebody becomes somebody else.
    const copied = (upTo = last.rows): void => {
      const before = this.ofRows;
      this.ofRows = new Int32Array(this.rows + (this.rows >> 3) + 1024).fill(-1, upTo);
      this.ofRows.set(before.subarray(0, upTo));
    };
    if (this.ofRows.length < this.rows) copied();
    // A root that is new has the number of the first old component that it was joined with.
    const numberOfNew = new Map<number, number>();
    let ofNow = false;
    const numberOf = (root: number): number =>
      root >= last.nodes ? (numberOfNew.get(root) ?? -1) : ofNow ? personOfNode[root]! : numberAfter(personOfNode[root]!, joins);
    for (const [a, b] of this.merged) {
      const [p, q] = [numberOf(a), numberOf(b)];
      if (p < 0 && q < 0) continue;
      if (p >= 0 && q >= 0 && p !== q) {
        const [kept, gone] = p < q ? [p, q] : [q, p];
        joins.push({ kept, gone });
        for (const [root, n] of numberOfNew) numberOfNew.set(root, n > gone ? n - 1 : n === gone ? kept : n);
        count--;
      } else for (const root of [a, b]) if (root >= last.nodes) numberOfNew.set(root, Math.max(p, q));
    }
    if (joins.length > 0) {
      copied();
      const { to } = renumberingOf(joins, last.value.count);
      renumber(personOfNode, to, last.nodes);
      renumber(this.ofRows, to, last.rows);
    }
    ofNow = true;
    for (let i = last.nodes; i < this.nodes; i++) {
      if (s.usable[i] === 0) continue;
      const root = find(s.parent, i);
      if (s.speaks[root] === 1) return undefined;
      let n = numberOf(root);
      if (n < 0) numberOfNew.set(root, (n = count++));
      personOfNode[i] = n;
    }
    const kinds = rankedKinds(table);
    this.ofRows.fill(-1, last.rows, this.rows);
    fillPersons(this.ofRows.subarray(0, this.rows), table, personOfNode, kinds, last.rows);
    const columns = kinds.map((kind) => table.ids.get(kind)!);
    const byIdentifiers = (row: number): number => {
      for (const c of columns) if (c.get(row) >= 0 && personOfNode[c.get(row)]! >= 0) return personOfNode[c.get(row)]!;
      return -1;
    };
    const changes = this.stretches.changes(this.shared, personOfNode, this.ofRows, byIdentifiers);
    const isOtherwise = [...changes.keys()].some((row) => row < last.rows);
    if (isOtherwise && joins.length === 0) copied(this.rows);
    for (const [row, person] of changes) this.ofRows[row] = person;
    if (isOtherwise || joins.length > 0) {
      const from = this.lineage;
      this.lineage = {};
      if (!isOtherwise) goesOn(this.lineage, from, joins);
    }
    return this.withLinks({ personOfNode, personOfMessage: this.ofRows.subarray(0, this.rows), count });
  }

  private madeAnew(): Persons {
    const { s, table, rules, links } = this;
    for (const root of this.dirty) {
      const members = [...this.nodesOf(root)];
      for (const i of members) s.guarded[i] = i;
      this.refused.set(root, joinInOrder(table, rules, s.guarded, links, [...this.linksOf(root)], members));
    }
    this.dirty.clear();
    const { personOfNode, count } = numbered(this.nodes, (i) => {
      if (s.usable[i] === 0) return -1;
      const root = find(s.parent, i);
      return s.speaks[root] === 1 ? find(s.guarded, i) : root;
    });
    const personOfMessage = personsOfMessages(table, personOfNode, rankedKinds(table));
    if (rules.linking && this.usersOf.size > 0) this.stretches.begin(this.usersOf.keys(), this.shared, personOfNode, personOfMessage);
    this.lineage = {};
    this.ofRows = personOfMessage;
    return this.withLinks({ personOfNode, personOfMessage, count });
  }

  /** What goes with it; the links are put together when somebody asks for them. */
  private withLinks(numbers: Pick<Persons, 'personOfNode' | 'personOfMessage' | 'count'>): Persons {
    const { table, links } = this;
    const { length } = links;
    const dropped = new Set(this.dropped);
    const refused = [...this.refused.values()].flat();
    const order = inOrder(table, links);
    refused.sort((p, q) => order(p.at, q.at));
    const refusedLinks = refused.map(({ at, why }) => ({ link: links.link(at), why, at }));
    let made: Link[] | undefined;
    const all = (): Link[] => {
      if (made) return made;
      const own = new Map(refusedLinks.map((r) => [r.at, r.link]));
      made = [];
      for (let i = 0; i < length; i++) if (!dropped.has(i)) made.push(own.get(i) ?? links.link(i));
      return made;
    };
    return {
      table,
      rules: this.rules,
      lineage: this.lineage,
      ...numbers,
      get links() {
        return all();
      },
      linkCount: length - dropped.size,
      refused: refusedLinks.map(({ link, why }) => ({ link, why })),
      shared: [...this.shared].sort((a, b) => a - b),
    };
  }
}

/** Gives the first so many their numbers of now. */
const renumber = (numbers: Int32Array, to: Int32Array, length: number): void => {
  for (let i = 0; i < length; i++) if (numbers[i]! >= 0) numbers[i] = to[numbers[i]!]!;
};
