/** What a figure is computed on, out of a scope. */
import { peopleWith } from '../core/definitions/defined-events';
import { personRulesOf } from '../core/identity/person-rules';
import { canonicalJson } from '../core/plan/content-hash';
import { PathMap, refOfProperty } from '../core/plan/property-path';
import { entries, settingsOf, type Plan } from '../core/plan/plan';
import { personsByBasis, type CountingBasis } from '../core/identity/counting-basis';
import type { FigureContext } from '../core/questions/figure';
import type { Scope } from './scope';

const bucketsIn = (plan: Plan): PathMap<readonly number[]> =>
  new PathMap(entries(plan, 'userProperty').flatMap(([, u]) => (u.buckets.length > 0 ? [[refOfProperty(u), u.buckets] as const] : [])));

export const figureContextOf = ({ plan, persons: linked }: Scope, now: number, basis: CountingBasis = 'fully linked'): FigureContext => ({
  people: peopleWith(personsByBasis(linked)[basis], plan, `${basis} ${canonicalJson(personRulesOf(plan))}`),
  settings: settingsOf(plan),
  now,
  buckets: bucketsIn(plan),
});
