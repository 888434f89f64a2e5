/** Situations × sources: which identifiers the rules expect, and which really arrive. */
import { entries, type Plan } from '../plan/plan';
import { situationsOf, type SituationCell } from './situation';
import { following } from '../table/following';
import type { MessageTable } from '../table/message-table';
import { userKindOf } from '../plan/user-kind';

export interface SituationRow {
  readonly sourceId: string;
  readonly cells: readonly SituationCell[];
  /** Of its messages, the share that carries each kind: of those without a user ID, and of those with one. */
  readonly arrives: readonly { readonly kind: string; readonly without: number | undefined; readonly with: number | undefined }[];
  readonly messages: { readonly without: number; readonly with: number };
  /** What is expected and comes on less than nine in ten, in words. */
  readonly lacks: readonly string[];
}

const MIN_SHARE = 0.9;
const MIN_MESSAGES = 20;

interface Carried {
  /** Messages without a user ID, and with one. */
  readonly total: [number, number];
  /** Of these, those that carry an identifier of a kind. */
  readonly counts: Map<string, [number, number]>;
}
const NOTHING: Carried = { total: [0, 0], counts: new Map() };

/** By the source's index; the key is the kind of user IDs. */
const carried = following(
  () => new Map<number, Carried>(),
  (state, table, from, to, who) => {
    const user = table.ids.get(who)?.rawFor(to);
    const source = table.source.rawFor(to);
    const of = (s: number): Carried => {
      let own = state.get(s);
      if (!own) state.set(s, (own = { total: [0, 0], counts: new Map() }));
      return own;
    };
    for (let row = from; row < to; row++) of(source[row]!).total[user && user[row]! >= 0 ? 1 : 0]++;
    for (const [kind, column] of table.ids) {
      const nodes = column.rawFor(to);
      for (let row = from; row < to; row++) {
        if (nodes[row]! < 0) continue;
        const { counts } = of(source[row]!);
        let own = counts.get(kind);
        if (!own) counts.set(kind, (own = [0, 0]));
        own[user && user[row]! >= 0 ? 1 : 0]++;
      }
    }
  },
);

/** Derived from the sources' identifier kinds and the rules; nothing in it is written by hand.
 *  Shape: a row for each source of the plan; shares 0..1, `undefined` where no message came.
 */
export const situations = (plan: Plan, table: MessageTable): SituationRow[] => {
  const who = userKindOf(plan);
  return entries(plan, 'source').map(([sourceId, s]) => {
    const { beforeSignIn: before, afterSignIn: after } = s.idKinds;
    const cells = situationsOf(plan, s);
    const { total, counts } = carried(table, who).get(table.sources.find(sourceId)) ?? NOTHING;
    const share = (kind: string, side: 0 | 1): number | undefined =>
      total[side] === 0 ? undefined : (counts.get(kind)?.[side] ?? 0) / total[side];
    const kinds = [...new Set([...before, ...after, ...[...counts].filter(([, c]) => c[0] + c[1] > 0).map(([k]) => k)])];
    const lack = (expected: readonly string[], side: 0 | 1, when: string): string[] =>
      total[side] < MIN_MESSAGES
        ? []
        : expected
            .filter((k) => (share(k, side) ?? 1) < MIN_SHARE)
            .map((k) => `\`${k}\` is missing on ${Math.round((1 - share(k, side)!) * 100)} % of messages ${when}`);
    return {
      sourceId,
      cells,
      arrives: kinds.map((kind) => ({ kind, without: share(kind, 0), with: share(kind, 1) })),
      messages: { without: total[0], with: total[1] },
      lacks: [
        ...lack(
          before.filter((k) => k !== who),
          0,
          'without a user ID',
        ),
        ...lack(after, 1, 'with one'),
      ],
    };
  });
};
