/** Which messages another plan may judge otherwise: the others keep what was found on them. */
import { canonicalJson } from '../plan/content-hash';
import { automaticEvents } from '../plan/automatic';
import { entries, settingsOf, type Plan } from '../plan/plan';
import { plannedPropertiesOf } from '../plan/plan-index';
import type { MessageTable } from '../table/message-table';
import type { Verdict } from '../table/row-verdicts';
import { namesOf } from '../table/projection';

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
  for (const name of automaticEvents(plan).keys()) by.set(name, `${by.get(name) ?? ''}automatic`);
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

/** The table as another plan names and judges it: what was found on messages that it judges alike is taken over.
 *  `found`: sequence number → what is found on those that are judged anew.
 */
export const judgedTable = (seen: MessageTable, plan: Plan, r: Rejudged, found: ReadonlyMap<number, readonly Verdict[]>): MessageTable => {
  const { events } = namesOf(plan);
  const anew = new Set([...r.names].map((n) => events.get(n) ?? n));
  const verdicts: (readonly [number, readonly Verdict[]])[] = [];
  for (const row of seen.judgedRows()) {
    const name = seen.names.values[seen.name.get(row)] ?? '';
    const isAnew = r.all || (seen.kindOf(row) === 'event' && (anew.has(name) || (r.unknown && !r.known.has(name))));
    if (!isAnew) verdicts.push([row, seen.verdicts.get(row)!]);
  }
  for (const [seq, own] of found) {
    const row = seen.rowOf(seq);
    if (row < seen.length && seen.seq.get(row) === seq) verdicts.push([row, own]);
  }
  verdicts.sort((a, b) => a[0] - b[0]);
  return seen.judgedAs(new Map(verdicts));
};
