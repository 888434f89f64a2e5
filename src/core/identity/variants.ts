/** Identifiers that differ only in case, in blanks at an end or in Unicode form: kept apart, since nobody knows that they are one. */
import { following } from '../table/following';
import type { MessageTable } from '../table/message-table';
import type { IdentifierNode } from '../table/nodes';

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

/** Hash of a text. Source: FNV-1a by UTF-16 code units. */
const hashOf = (text: string): number => {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return hash;
};

interface Folded {
  nodes: number;
  /** Hash of what is alike → the first node with it: texts of all identifiers would take more room than all else. */
  readonly first: Map<number, number>;
  /** What several have in common, or what has the hash of something else → its nodes. */
  readonly groups: Map<string, number[]>;
}

const folded = following(
  (): Folded => ({ nodes: 0, first: new Map(), groups: new Map() }),
  (state, table) => {
    for (; state.nodes < table.nodes.length; state.nodes++) {
      const i = state.nodes;
      const fold = foldOf(table.nodes.get(i));
      const hash = hashOf(fold);
      const first = state.first.get(hash);
      if (first === undefined) {
        state.first.set(hash, i);
        continue;
      }
      const group = state.groups.get(fold);
      if (group) group.push(i);
      else state.groups.set(fold, foldOf(table.nodes.get(first)) === fold ? [first, i] : [i]);
    }
  },
);

/** Shape: groups of at least two of a kind; a few of them as examples, in the order of arrival. */
export const variantsIn = (table: MessageTable): Variants => {
  const groups = [...folded(table).groups.values()].filter((g) => g.length > 1).sort((a, b) => a[0]! - b[0]!);
  return {
    groups: groups.length,
    examples: groups.slice(0, EXAMPLES).map((g) => ({ kind: table.nodes.kindOf(g[0]!), values: g.map((i) => table.nodes.valueOf(i)) })),
  };
};
