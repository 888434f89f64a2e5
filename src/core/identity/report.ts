/** The identity report: what the recorded messages say about persons under the rules in force. */
import type { MessageTable } from '../table/message-table';
import { countingBases, type BasisFigure } from './counting-basis';
import type { Persons } from './persons';
import { unusableTest, type PersonRules, type Unusable } from './person-rules';

export interface IdentityReport {
  readonly messages: number;
  readonly identifiers: readonly { readonly kind: string; readonly distinct: number }[];
  readonly bases: readonly BasisFigure[];
  readonly links: number;
  readonly refused: readonly { readonly a: string; readonly b: string; readonly at: number }[];
  readonly refusedCount: number;
  /** Identifiers that stand for nobody, why, and the messages that carry them. */
  readonly placeholders: readonly { readonly kind: string; readonly value: string; readonly why: Unusable; readonly messages: number }[];
  /** User IDs that no other identifier is linked to. */
  readonly orphans: number;
  /** User IDs that stand for somebody. */
  readonly userIds: number;
}

const SHOWN = 20;

/** Node → how many messages carry it. */
const messagesOfNodes = (table: MessageTable): Int32Array => {
  const out = new Int32Array(table.nodes.length);
  for (const column of table.ids.values()) {
    const nodes = column.rawFor(table.length);
    for (let row = 0; row < table.length; row++) if (nodes[row]! >= 0) out[nodes[row]!]!++;
  }
  return out;
};

/** The report for a table and its persons. Lists hold at most 20 entries, the newest or the most frequent first; the counts are whole. */
export const identityReport = (table: MessageTable, rules: PersonRules, persons: Persons): IdentityReport => {
  const perKind = new Map<string, number>();
  for (const n of table.nodes) perKind.set(n.kind, (perKind.get(n.kind) ?? 0) + 1);
  const members = new Int32Array(persons.count);
  for (const p of persons.personOfNode) if (p >= 0) members[p]!++;
  let orphans = 0;
  let userIds = 0;
  const unusable = unusableTest(rules);
  const placeholders = new Map<number, number>();
  table.nodes.forEach((n, i) => {
    const person = persons.personOfNode[i]!;
    if (person < 0) {
      if (unusable(n) !== undefined) placeholders.set(i, 0);
    } else if (n.kind === table.userKind) {
      userIds++;
      if (members[person] === 1) orphans++;
    }
  });
  if (placeholders.size > 0) {
    const messagesOf = messagesOfNodes(table);
    for (const node of placeholders.keys()) placeholders.set(node, messagesOf[node]!);
  }
  const name = (i: number): string => `${table.nodes[i]!.kind} ${table.nodes[i]!.value}`;
  return {
    messages: table.length,
    identifiers: [...perKind].map(([kind, distinct]) => ({ kind, distinct })),
    bases: countingBases(table, rules, persons),
    links: persons.links.length,
    refused: persons.refused
      .slice(-SHOWN)
      .reverse()
      .map((r) => ({ a: name(r.link.a), b: name(r.link.b), at: r.link.firstAt })),
    refusedCount: persons.refused.length,
    placeholders: [...placeholders]
      .map(([i, messages]) => ({ ...table.nodes[i]!, why: unusable(table.nodes[i]!)!, messages }))
      .sort((a, b) => b.messages - a.messages)
      .slice(0, SHOWN),
    orphans,
    userIds,
  };
};
