/** Which messages another plan may judge otherwise: the others keep what was found on them. */
import { canonicalJson } from '../plan/content-hash';
import { entries, settingsOf, type Plan } from '../plan/plan';
import { plannedPropertiesOf } from '../plan/plan-index';

export interface Rejudged {
  /** Every message, of whatever kind. */
  readonly all: boolean;
  /** Names under which events of either plan arrive whose messages are judged anew. */
  readonly names: ReadonlySet<string>;
  /** Names that neither plan knows, too: what they are taken for depends on those that are known. */
  readonly unknown: boolean;
  /** Names that either plan knows. */
  readonly known: ReadonlySet<string>;
}

/** What the checks on a message read beside its own event. */
const common = (plan: Plan): string =>
  canonicalJson([
    plan.identifierKind,
    plan.userProperty,
    entries(plan, 'source')
      .flatMap(([, s]) => s.automaticProperties)
      .sort(),
    settingsOf(plan).rules,
  ]);

/** Name under which messages arrive → what they are judged by. */
const judgedBy = (plan: Plan): Map<string, string> => {
  const by = new Map<string, string>();
  for (const [id, e] of entries(plan, 'event')) {
    const key = canonicalJson([e.name, e.formerNames, plannedPropertiesOf(plan, id).map((p) => [p.property, p.required])]);
    for (const name of [e.name, ...e.formerNames]) by.set(name, `${by.get(name) ?? ''}${key}`);
  }
  return by;
};

/** What is judged otherwise after a change of the plan, at most. */
export const rejudged = (before: Plan, after: Plan): Rejudged => {
  const [a, b] = [judgedBy(before), judgedBy(after)];
  const known = new Set([...a.keys(), ...b.keys()]);
  return {
    all: common(before) !== common(after),
    names: new Set([...known].filter((name) => a.get(name) !== b.get(name))),
    unknown: a.size !== b.size || [...a.keys()].some((name) => !b.has(name)),
    known,
  };
};

/** Whether a message is judged anew. */
export const isRejudged = (r: Rejudged, kind: string, name: string): boolean =>
  r.all || (kind === 'event' && (r.names.has(name) || (r.unknown && !r.known.has(name))));

/** Whether anything is. */
export const judgesAnew = (r: Rejudged): boolean => r.all || r.unknown || r.names.size > 0;
