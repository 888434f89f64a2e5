/** Identifiers that differ only in case, in blanks at an end or in Unicode form: kept apart, since nobody knows that they are one. */
import type { IdentifierNode, MessageTable } from '../table/message-table';

export interface Variants {
  /** Groups of alike identifiers. */
  readonly groups: number;
  readonly examples: readonly { readonly kind: string; readonly values: readonly string[] }[];
}

/** What alike identifiers have in common.
 *  Source: Unicode Standard Annex 15 (form KC); lower case as JavaScript's, which is Unicode's default mapping.
 */
const foldOf = ({ kind, value }: IdentifierNode): string => `${kind}\u0000${value.normalize('NFKC').trim().toLowerCase()}`;

const EXAMPLES = 4;

/** Shape: groups of at least two of a kind; a few of them as examples, in the order of arrival. */
export const variantsIn = (table: MessageTable): Variants => {
  const byFold = new Map<string, number | number[]>();
  table.nodes.forEach((n, i) => {
    const key = foldOf(n);
    const known = byFold.get(key);
    if (known === undefined) byFold.set(key, i);
    else if (typeof known === 'number') byFold.set(key, [known, i]);
    else known.push(i);
  });
  const groups = [...byFold.values()].filter((g) => typeof g !== 'number');
  return {
    groups: groups.length,
    examples: groups.slice(0, EXAMPLES).map((g) => ({ kind: table.nodes[g[0]!]!.kind, values: g.map((i) => table.nodes[i]!.value) })),
  };
};
