/** Situations of a person, and what is expected of a source in each: worked out from rules and sources alone. */
import { settingsOf, type Plan, type Source } from '../plan/plan';
import { userKindOf } from '../plan/user-kind';

export const SITUATIONS = ['first visit', 'sign-up', 'sign-in', 'sign-out', 'second device', 'shared device'] as const;
export type Situation = (typeof SITUATIONS)[number];

export interface SituationCell {
  readonly situation: Situation;
  /** Identifier kinds that a message should carry. */
  readonly expected: readonly string[];
  /** What the rules make of it. */
  readonly leadsTo: string;
}

/** Which identifiers a source is expected to carry in each situation, and what the rules make of it. */
export const situationsOf = (plan: Plan, s: Source): readonly SituationCell[] => {
  const rules = settingsOf(plan).identity;
  const links = (a: string, b: string): boolean =>
    rules.linking && rules.links.some(([x, y]) => (x === a && y === b) || (x === b && y === a));
  const who = userKindOf(plan);
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
  return SITUATIONS.filter((x) => client || x === 'sign-up' || x === 'sign-in').map((situation) => ({
    situation,
    expected: situation === 'first visit' || situation === 'sign-out' ? signedOutKinds : after,
    leadsTo: leads[situation],
  }));
};
