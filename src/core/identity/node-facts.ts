/** What is known of each identifier out of the messages that carry it: followed as they come, so that each is looked at once. */
import { canonicalJson } from '../plan/content-hash';
import { GrowingCounts } from '../table/column';
import { following } from '../table/following';
import type { MessageTable } from '../table/message-table';
import { LinkSet } from './link-set';
import { unusableTest, type PersonRules, type Unusable } from './person-rules';

const countsWithout = following(
  () => new GrowingCounts(0),
  (counts, table, from, to, key) => {
    counts.expect(table.nodes.length);
    const leftOut = new Set((JSON.parse(key) as string[]).map((id) => table.sources.find(id)));
    const source = table.source.rawFor(to);
    for (const column of table.ids.values()) {
      const nodes = column.rawFor(to);
      for (let row = from; row < to; row++) {
        const node = nodes[row]!;
        if (node >= 0 && (leftOut.size === 0 || !leftOut.has(source[row]!))) counts.add(node);
      }
    }
  },
);

/** Node → messages that carry it, but for those of some sources. Shape: at least as long as there are nodes; not to be changed. */
export const messagesOfNodes = (table: MessageTable, without: readonly string[] = []): Int32Array => {
  const counts = countsWithout(table, JSON.stringify([...without].sort()));
  counts.expect(table.nodes.length);
  return counts.raw;
};

const several = following(
  () => ({ first: new GrowingCounts(-1), users: new Map<number, Set<number>>() }),
  ({ first, users }, table, from, to) => {
    first.expect(table.nodes.length);
    const user = table.ids.get(table.userKind)?.rawFor(to);
    if (!user) return;
    for (const [kind, ids] of table.ids) {
      if (kind === table.userKind) continue;
      const column = ids.rawFor(to);
      const known = first.raw;
      for (let row = from; row < to; row++) {
        const node = column[row]!;
        const u = user[row]!;
        if (node < 0 || u < 0 || known[node] === u) continue;
        if (known[node]! < 0) {
          known[node] = u;
          continue;
        }
        const set = users.get(node);
        if (set) set.add(u);
        else users.set(node, new Set([known[node]!, u]));
      }
    }
  },
);

/** How many user IDs, usable or not, came beside an identifier of another kind where they are several; 1 where they are not. */
export const usersBeside = (table: MessageTable, node: number): number => several(table).users.get(node)?.size ?? 1;

const besideUsers = following(
  () => new LinkSet(),
  (pairs, table, from, to) => {
    const user = table.ids.get(table.userKind)?.rawFor(to);
    if (!user) return;
    for (const [kind, ids] of table.ids) {
      if (kind === table.userKind) continue;
      const column = ids.rawFor(to);
      for (let row = from; row < to; row++) if (user[row]! >= 0 && column[row]! >= 0) pairs.add(user[row]!, column[row]!, 0);
    }
  },
);

/** Each user ID with each identifier of another kind that came beside it: `a[i]` with `b[i]`. Not to be changed. */
export const pairsOfUsers = (table: MessageTable): Pick<LinkSet, 'a' | 'b' | 'length'> => besideUsers(table);

const fromElsewhere = following(
  () => new GrowingCounts(0),
  (flags, table, from, to, key) => {
    flags.expect(table.nodes.length);
    const leftOut = new Set((JSON.parse(key) as string[]).map((id) => table.sources.find(id)));
    const isOther = table.sources.values.map((_, s) => (leftOut.has(s) ? 0 : 1));
    const source = table.source.rawFor(to);
    const { raw } = flags;
    for (const column of table.ids.values()) {
      const nodes = column.rawFor(to);
      for (let row = from; row < to; row++) if (nodes[row]! >= 0 && isOther[source[row]!] === 1) raw[nodes[row]!] = 1;
    }
  },
);

/** Node → 1 where any source but these sent it. Shape: as `messagesOfNodes`. */
export const sentByOthers = (table: MessageTable, sources: readonly string[]): Int32Array => {
  const flags = fromElsewhere(table, JSON.stringify([...sources].sort()));
  flags.expect(table.nodes.length);
  return flags.raw;
};

/** The usable user IDs that came beside each identifier of another kind, where there are at least two. */
export const usersPerNode = (table: MessageTable, usable: Uint8Array): Map<number, ReadonlySet<number>> => {
  const out = new Map<number, ReadonlySet<number>>();
  for (const [node, users] of several(table).users) {
    const own = new Set([...users].filter((u) => usable[u] === 1));
    if (own.size > 1) out.set(node, own);
  }
  return out;
};

const unusable = following(
  () => ({ usable: new GrowingCounts(1), of: new Map<number, Unusable>(), nodes: 0 }),
  (state, table, _from, _to, key) => {
    const why = unusableTest(JSON.parse(key) as PersonRules);
    state.usable.expect(table.nodes.length);
    for (; state.nodes < table.nodes.length; state.nodes++) {
      const reason = why(table.nodes.get(state.nodes));
      if (reason === undefined) continue;
      state.usable.raw[state.nodes] = 0;
      state.of.set(state.nodes, reason);
    }
  },
);

/** Which identifiers identify nobody, and why. */
export const unusableNodes = (table: MessageTable, rules: PersonRules): ReadonlyMap<number, Unusable> =>
  unusable(table, canonicalJson(rules)).of;

/** Node → 1 where it may identify somebody. Shape: at least as long as there are nodes; not to be changed. */
export const usableNodes = (table: MessageTable, rules: PersonRules): Uint8Array => {
  const { usable } = unusable(table, canonicalJson(rules));
  usable.expect(table.nodes.length);
  return Uint8Array.from(usable.raw);
};

const firstSeen = following(
  () => ({ at: new Float64Array(0) }),
  (state, table, from, to) => {
    if (state.at.length < table.nodes.length) {
      const more = new Float64Array(Math.max(table.nodes.length, state.at.length * 2)).fill(Infinity);
      more.set(state.at);
      state.at = more;
    }
    const { at } = state;
    const time = table.time.raw;
    for (const column of table.ids.values()) {
      const nodes = column.rawFor(to);
      for (let row = from; row < to; row++) {
        const node = nodes[row]!;
        if (node >= 0 && time[row]! < at[node]!) at[node] = time[row]!;
      }
    }
  },
);

/** Node → time of the earliest message that carries it, UTC epoch ms. Shape: as `messagesOfNodes`. */
export const firstSeenOfNodes = (table: MessageTable): Float64Array => firstSeen(table).at;
