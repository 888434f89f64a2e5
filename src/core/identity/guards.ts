/** What keeps links from joining too much: at most so many user IDs in a person, and cuts. */
import type { IdentityRules } from '../plan/plan';
import type { MessageTable } from '../table/message-table';
import type { LinkSet } from './link-set';

export type Refusal = 'two user IDs' | 'cut';

/** The root of a node; the way to it is shortened. */
export const find = (parent: Int32Array, i: number): number => {
  let root = i;
  while (parent[root]! !== root) root = parent[root]!;
  while (parent[i]! !== root) {
    const next = parent[i]!;
    parent[i] = root;
    i = next;
  }
  return root;
};

/** What tells a node from all others, whichever number it has. */
export const keyOf = (table: MessageTable, i: number): string => `${table.nodes.kindOf(i)}\u0000${table.nodes.valueOf(i)}`;

/** The cuts whose both ends have arrived, as nodes. */
export const cutsIn = (table: MessageTable, rules: IdentityRules): (readonly [number, number])[] =>
  rules.cuts
    .map((c): [number, number] => [table.nodes.find(c.a.kind, c.a.value), table.nodes.find(c.b.kind, c.b.value)])
    .filter(([a, b]) => a >= 0 && b >= 0);

export interface RefusedAt {
  /** Place in the link set. */
  readonly at: number;
  readonly why: Refusal;
}

/** The order in which links are taken: by time, then by their identifiers, so that it does not hang on the order of arrival. */
export const inOrder =
  (table: MessageTable, links: LinkSet) =>
  (p: number, q: number): number => {
    if (links.firstAt[p] !== links.firstAt[q]) return links.firstAt[p]! - links.firstAt[q]!;
    const keys = (i: number): [string, string] => {
      const [x, y] = [keyOf(table, links.a[i]!), keyOf(table, links.b[i]!)];
      return x < y ? [x, y] : [y, x];
    };
    const [p1, p2] = keys(p);
    const [q1, q2] = keys(q);
    return p1 < q1 ? -1 : p1 > q1 ? 1 : p2 < q2 ? -1 : p2 > q2 ? 1 : 0;
  };

/** Builds components anew out of the links at the places `again`, one by one, and leaves out what the guards forbid. Every node of them is a
 *  component of its own in `parent` when this begins. Changes `parent`.
 *  Shape: the refused, in the order in which they were.
 */
export const joinInOrder = (
  table: MessageTable,
  rules: IdentityRules,
  parent: Int32Array,
  links: LinkSet,
  again: number[],
  nodes: Iterable<number>,
): RefusedAt[] => {
  const cuts = cutsIn(table, rules);
  const users = new Map<number, number>();
  for (const i of nodes) if (table.nodes.kindOf(i) === table.userKind) users.set(i, 1);
  again.sort(inOrder(table, links));
  /** Whether joining two roots would put both ends of a cut into one person. */
  const isCut = (a: number, b: number): boolean =>
    cuts.some(([x, y]) => {
      const [p, q] = [find(parent, x), find(parent, y)];
      return (p === a && q === b) || (p === b && q === a);
    });
  const refused: RefusedAt[] = [];
  for (const at of again) {
    const a = find(parent, links.a[at]!);
    const b = find(parent, links.b[at]!);
    if (a === b) continue;
    const together = (users.get(a) ?? 0) + (users.get(b) ?? 0);
    if (rules.maxUserIds > 0 && together > rules.maxUserIds) refused.push({ at, why: 'two user IDs' });
    else if (cuts.length > 0 && isCut(a, b)) refused.push({ at, why: 'cut' });
    else {
      const [to, from] = a < b ? [a, b] : [b, a];
      parent[from] = to;
      if (together > 0) users.set(to, together);
    }
  }
  return refused;
};

/** Takes back what the guards forbid. A component in which no guard speaks is the same whatever the order of its links, so only those
 *  where one does are built anew. Changes `parent`.
 *  Shape: which of the links were refused, in the order in which they were.
 */
export const guard = (table: MessageTable, rules: IdentityRules, parent: Int32Array, links: LinkSet): RefusedAt[] => {
  const n = parent.length;
  const users = new Int32Array(n);
  const speaks = new Uint8Array(n);
  let any = false;
  if (rules.maxUserIds > 0)
    for (let i = 0; i < n; i++) {
      if (table.nodes.kindOf(i) !== table.userKind) continue;
      const root = find(parent, i);
      if (++users[root]! > rules.maxUserIds) {
        speaks[root] = 1;
        any = true;
      }
    }
  for (const [a, b] of cutsIn(table, rules)) {
    const root = find(parent, a);
    if (root !== find(parent, b)) continue;
    speaks[root] = 1;
    any = true;
  }
  if (!any) return [];
  const again: number[] = [];
  for (let i = 0; i < links.length; i++) if (speaks[find(parent, links.a[i]!)] === 1) again.push(i);
  const apart: number[] = [];
  for (let i = 0; i < n; i++) if (speaks[find(parent, i)] === 1) apart.push(i);
  for (const i of apart) parent[i] = i;
  return joinInOrder(table, rules, parent, links, again, apart);
};
