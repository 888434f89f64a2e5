/** What the rules look at: entities that are not retired. */
import { entries, isLive, type Id, type Plan, type PlanDefinition, type PlanEvent, type Property, type UserProperty } from '../plan/plan';

/** One list for each state of a table: fifty rules look through the same ones. */
const remembering = <Table extends object, T>(work: (plan: Plan) => T, tableOf: (plan: Plan) => Table): ((plan: Plan) => T) => {
  const known = new WeakMap<Table, T>();
  return (plan) => {
    const table = tableOf(plan);
    let value = known.get(table);
    if (value === undefined) known.set(table, (value = work(plan)));
    return value;
  };
};

export const liveEvents = remembering<Plan['event'], readonly (readonly [Id, PlanEvent])[]>(
  (plan) => entries(plan, 'event').filter(([, e]) => isLive(e)),
  (plan) => plan.event,
);
export const liveProperties = remembering<Plan['property'], readonly (readonly [Id, Property])[]>(
  (plan) => entries(plan, 'property').filter(([, p]) => !p.retired),
  (plan) => plan.property,
);
export const liveDefinitions = remembering<Plan['definition'], readonly (readonly [Id, PlanDefinition])[]>(
  (plan) => entries(plan, 'definition').filter(([, d]) => !d.retired),
  (plan) => plan.definition,
);
export const liveUserProperties = remembering<Plan['userProperty'], readonly (readonly [Id, UserProperty])[]>(
  (plan) => entries(plan, 'userProperty').filter(([, u]) => !u.retired),
  (plan) => plan.userProperty,
);

/** The commonest of the values, blanks left out; of equals the first seen. */
export const commonest = (values: Iterable<string>): string | undefined => {
  const counts = new Map<string, number>();
  for (const v of values) if (v.trim() !== '') counts.set(v, (counts.get(v) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0];
};
