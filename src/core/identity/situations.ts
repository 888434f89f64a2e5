/** Situations × sources: which identifiers the rules expect, and which really arrive. */
import { entries, settingsOf, type Plan } from '../plan/plan';
import { following } from '../table/following';
import type { MessageTable } from '../table/message-table';
import { userKindOf } from '../table/projection';

export const SITUATIONS = ['first visit', 'sign-up', 'sign-in', 'sign-out', 'second device', 'shared device'] as const;
export type Situation = (typeof SITUATIONS)[number];

export interface SituationCell {
  readonly situation: Situation;
  /** Identifier kinds that a message should carry. */
  readonly expected: readonly string[];
  /** What the rules make of it. */
  readonly leadsTo: string;
}

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
  const rules = settingsOf(plan).identity;
  const links = (a: string, b: string): boolean =>
    rules.linking && rules.links.some(([x, y]) => (x === a && y === b) || (x === b && y === a));
  const who = userKindOf(plan);
  return entries(plan, 'source').map(([sourceId, s]) => {
    const before = s.idKinds.beforeSignIn;
    const after = s.idKinds.afterSignIn;
    const client = s.kind !== 'server';
    const joins = after.filter((k) => k !== who && after.includes(who) && links(k, who));
    const history = joins.length > 0 ? `joins the history under ${joins.join(' and ')}` : 'stays apart from what came before';
    const leads: { readonly [S in Situation]: string } = {
      'first visit': before.length > 0 ? 'a person of its own' : 'nobody: it carries no identifier',
      'sign-up': after.includes(who) ? history : 'the new user ID is not known here',
      'sign-in': after.includes(who) ? history : 'the user ID is not known here',
      'sign-out':
        rules.signOutEvents.length > 0
          ? 'the stretch ends; what follows on a device of several is nobody’s'
          : 'no sign-out is named in the rules',
      'second device': after.includes(who)
        ? rules.linking
          ? 'the same person, by the user ID'
          : 'another person: nothing is linked'
        : 'another person: no guessing',
      'shared device':
        rules.sharedDeviceUsers > 0
          ? `from ${rules.sharedDeviceUsers + 1} user IDs on it never links; each stretch is of who is signed in`
          : 'links to whoever signs in first: the guard is off',
    };
    const signedOutKinds = before;
    const cells: SituationCell[] = SITUATIONS.filter((x) => client || x === 'sign-up' || x === 'sign-in').map((situation) => ({
      situation,
      expected: situation === 'first visit' || situation === 'sign-out' ? signedOutKinds : after,
      leadsTo: leads[situation],
    }));
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
