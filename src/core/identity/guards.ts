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
export const keyOf = (table: MessageTable, i: number): string => `${table.nodes[i]!.kind}\u0000${table.nodes[i]!.value}`;

/** Takes back what the guards forbid. A component in which no guard speaks is the same whatever the order of its links, so only those
 *  where one does are built anew, link by link, by time and then by identifier. Changes `parent`.
 *  Shape: which of the links were refused, in the order in which they were.
 */
export const guard = (
  table: MessageTable,
  rules: IdentityRules,
  parent: Int32Array,
  isUser: Uint8Array,
  links: LinkSet,
): { readonly at: number; readonly why: Refusal }[] => {
  const n = parent.length;
  const users = new Int32Array(n);
  const speaks = new Uint8Array(n);
  let any = false;
  const cuts = rules.cuts
    .map((c): [number, number] => [table.findNode(c.a.kind, c.a.value), table.findNode(c.b.kind, c.b.value)])
    .filter(([a, b]) => a >= 0 && b >= 0);
  if (rules.maxUserIds > 0)
    for (let i = 0; i < n; i++) {
      if (isUser[i] === 0) continue;
      const root = find(parent, i);
      if (++users[root]! > rules.maxUserIds) {
        speaks[root] = 1;
        any = true;
      }
    }
  for (const [a, b] of cuts) {
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
  for (const i of apart) {
    parent[i] = i;
    users[i] = isUser[i]!;
  }
  const keys = (i: number): [string, string] => {
    const [x, y] = [keyOf(table, links.a[i]!), keyOf(table, links.b[i]!)];
    return x < y ? [x, y] : [y, x];
  };
  again.sort((p, q) => {
    if (links.firstAt[p] !== links.firstAt[q]) return links.firstAt[p]! - links.firstAt[q]!;
    const [p1, p2] = keys(p);
    const [q1, q2] = keys(q);
    return p1 < q1 ? -1 : p1 > q1 ? 1 : p2 < q2 ? -1 : p2 > q2 ? 1 : 0;
  });
  /** Whether joining two roots would put both ends of a cut into one person. */
  const isCut = (a: number, b: number): boolean =>
    cuts.some(([x, y]) => {
      const [p, q] = [find(parent, x), find(parent, y)];
      return (p === a && q === b) || (p === b && q === a);
    });
  const refused: { at: number; why: Refusal }[] = [];
  for (const at of again) {
    const a = find(parent, links.a[at]!);
    const b = find(parent, links.b[at]!);
    if (a === b) continue;
    if (rules.maxUserIds > 0 && users[a]! + users[b]! > rules.maxUserIds) refused.push({ at, why: 'two user IDs' });
    else if (cuts.length > 0 && isCut(a, b)) refused.push({ at, why: 'cut' });
    else {
      const [to, from] = a < b ? [a, b] : [b, a];
      parent[from] = to;
      users[to] = users[to]! + users[from]!;
    }
  }
  return refused;
};
