/** What the rules look at: entities that are not retired. */
import { entries, isLive, type Id, type Plan, type PlanEvent, type Property, type UserProperty } from '../plan/plan';

export const liveEvents = (plan: Plan): [Id, PlanEvent][] => entries(plan, 'event').filter(([, e]) => isLive(e));
export const liveProperties = (plan: Plan): [Id, Property][] => entries(plan, 'property').filter(([, p]) => !p.retired);
export const liveUserProperties = (plan: Plan): [Id, UserProperty][] => entries(plan, 'userProperty').filter(([, u]) => !u.retired);

/** The commonest of the values, blanks left out; of equals the first seen. */
export const commonest = (values: Iterable<string>): string | undefined => {
  const counts = new Map<string, number>();
  for (const v of values) if (v.trim() !== '') counts.set(v, (counts.get(v) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0];
};
