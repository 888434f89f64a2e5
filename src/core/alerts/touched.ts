/** What outside of the plan hangs on something that is to be removed: sign-offs that will fall, and rules of alerts that are about it. */
import type { KeptRule } from './kept-rule';
import { labelOf, type Id, type Kind, type Plan } from '../plan/plan';
import { referencesTo } from '../plan/references';
import type { SignOff } from '../clearance/sign-off';

export interface Touched {
  readonly what: 'sign-off' | 'alert rule';
  /** The question's text, or the rule's name. */
  readonly label: string;
  readonly how: string;
}

/** The questions that ask for it: their sign-offs are to be looked at. */
export const questionsTouched = (plan: Plan, kind: Kind, id: Id): Id[] =>
  referencesTo(plan, kind, id)
    .filter((r) => r.kind === 'question')
    .map((r) => r.id);

/** The rules that name it: an event or a definition by its name, a source by its ID. */
export const rulesTouched = <R extends Pick<KeptRule, 'events' | 'sources' | 'name'>>(
  plan: Plan,
  kind: Kind,
  id: Id,
  rules: readonly R[],
): R[] => {
  const name = labelOf(kind, plan[kind][id]);
  return rules.filter((r) =>
    kind === 'source' ? r.sources.includes(id) : (kind === 'event' || kind === 'definition') && r.events.includes(name),
  );
};

/** All of it, in words. Shape: `signOffs` by question, the newest first; only one that holds can fall. */
export const touchedBeyond = (
  plan: Plan,
  kind: Kind,
  id: Id,
  rules: readonly Pick<KeptRule, 'events' | 'sources' | 'name'>[],
  signOffs: ReadonlyMap<Id, readonly Pick<SignOff, 'author' | 'fellAt'>[]>,
): Touched[] => [
  ...questionsTouched(plan, kind, id).flatMap((q): Touched[] => {
    const held = signOffs.get(q)?.[0];
    return held && held.fellAt === null
      ? [{ what: 'sign-off', label: plan.question[q]?.text ?? q, how: `by ${held.author}; falls when it is published` }]
      : [];
  }),
  ...rulesTouched(plan, kind, id, rules).map((r): Touched => ({
    what: 'alert rule',
    label: r.name,
    how: 'is about it, and will tell nothing',
  })),
];
