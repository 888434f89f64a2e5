/** What a scenario's figures are computed on: the published state, the draft, a dry run and tried rules all come here. */
import { peopleWith } from '../definitions/defined-events';
import { personsByBasis, type CountingBasis } from '../identity/counting-basis';
import type { Resolved } from '../identity/persons-otherwise';
import { canonicalJson } from '../plan/content-hash';
import { entries, settingsOf, type Plan } from '../plan/plan';
import { PathMap, refOfProperty } from '../plan/property-path';
import type { FigureContext } from '../questions/figure';
import type { MessageTable } from '../table/message-table';

const bucketsIn = (plan: Plan): PathMap<readonly number[]> =>
  new PathMap(entries(plan, 'userProperty').flatMap(([, u]) => (u.buckets.length > 0 ? [[refOfProperty(u), u.buckets] as const] : [])));

/** Persons under a counting basis, with the plan's definitions over their table, or over the same columns judged otherwise. */
export const figureContext = (
  plan: Plan,
  persons: Resolved,
  now: number,
  { basis = 'fully linked', table }: { readonly basis?: CountingBasis | undefined; readonly table?: MessageTable } = {},
): FigureContext => {
  const counted = personsByBasis(persons)[basis];
  return {
    people: peopleWith(table ? { ...counted, table } : counted, plan, `${basis} ${canonicalJson(persons.rules)}`),
    settings: settingsOf(plan),
    now,
    buckets: bucketsIn(plan),
  };
};
