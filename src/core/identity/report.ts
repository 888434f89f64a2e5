/** The identity report: what the recorded messages say about persons under the rules in force. */
import { countingBases, type BasisFigure } from './counting-basis';
import type { Persons } from './persons';
import { membersOf } from './members';
import { messagesOfNodes, unusableNodes } from './node-facts';
import type { Unusable } from './person-rules';

export interface IdentityReport {
  readonly messages: number;
  readonly identifiers: readonly { readonly kind: string; readonly distinct: number }[];
  readonly bases: readonly BasisFigure[];
  readonly links: number;
  readonly refused: readonly { readonly a: string; readonly b: string; readonly at: number }[];
  readonly refusedCount: number;
  /** Identifiers that identify nobody, why, and the messages that carry them. */
  readonly placeholders: readonly { readonly kind: string; readonly value: string; readonly why: Unusable; readonly messages: number }[];
  /** User IDs that no other identifier is linked to. */
  readonly orphans: number;
  /** User IDs that identify somebody. */
  readonly userIds: number;
}

const SHOWN = 20;

/** The report for persons and their messages. Lists hold at most 20 entries, the newest or the most frequent first; the counts are whole. */
export const identityReport = (persons: Persons): IdentityReport => {
  const { table, rules } = persons;
  const { members } = membersOf(persons);
  let orphans = 0;
  let userIds = 0;
  for (const i of table.nodes.ofKind(table.userKind)) {
    const person = persons.personOfNode[i] ?? -1;
    if (person < 0) continue;
    userIds++;
    if (members[person] === 1) orphans++;
  }
  const unusable = unusableNodes(table, rules);
  const messagesOf = messagesOfNodes(table);
  const name = (i: number): string => `${table.nodes.kindOf(i)} ${table.nodes.valueOf(i)}`;
  return {
    messages: table.length,
    identifiers: table.nodes.kindsKnown().map((kind) => ({ kind, distinct: table.nodes.ofKind(kind).length })),
    bases: countingBases(persons),
    links: persons.linkCount,
    refused: persons.refused
      .slice(-SHOWN)
      .reverse()
      .map((r) => ({ a: name(r.link.a), b: name(r.link.b), at: r.link.firstAt })),
    refusedCount: persons.refused.length,
    placeholders: [...unusable]
      .map(([i, why]) => ({ ...table.nodes.get(i), why, messages: messagesOf[i]! }))
      .sort((a, b) => b.messages - a.messages)
      .slice(0, SHOWN),
    orphans,
    userIds,
  };
};
