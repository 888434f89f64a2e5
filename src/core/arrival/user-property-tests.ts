/** What a checker looks at in the user properties that a message sets: names, and the values of those that are planned, at any depth. */
import { blank } from '../plan/defaults';
import { standingIn, withOuters } from '../plan/outers';
import { entries, type Plan, type PlannedProperty, type Property, type UserProperty } from '../plan/plan';
import { isObject, named, refOf, refOfProperty } from '../plan/property-path';
import type { MessageFinding } from './message-finding';
import { lookedInto, NONE, unplannedUserTest, unplannedValueTest, valueTest, type SeverityOf, type Values } from './message-tests';

/** A user property as the checks on a value take it. */
const asProperty = (u: UserProperty): Property => ({
  ...blank('property'),
  ...named(refOfProperty(u)),
  type: u.type,
  unit: u.unit,
  allowed: u.allowed,
  samples: u.samples,
  personalData: u.personalData,
});

/** Test of the user properties that a message sets: names, and the values of those that are planned. */
export const userPropertyTest = (plan: Plan, severityOf: SeverityOf): ((values: Values) => readonly MessageFinding[]) => {
  const all = entries(plan, 'userProperty').flatMap(([id, u]) => (u.retired ? [] : [{ id, property: asProperty(u), required: false, u }]));
  const planned = all.filter(({ u }) => !u.within?.length);
  const names = planned.map(({ u }) => u.name);
  const known = userLevel(withOuters(all), [], severityOf);
  for (const { u } of planned) for (const former of u.formerNames) if (!known.has(former)) known.set(former, known.get(u.name)!);
  const testUnplanned = unplannedUserTest(plan, severityOf);
  const testPersonal = unplannedValueTest(severityOf, 'user_properties');
  const onUnplanned = (path: readonly string[], value: unknown, among: readonly string[]): readonly MessageFinding[] => {
    const ref = refOf(path);
    return [testUnplanned(ref, value, among), testPersonal(ref, value)].filter((f) => f !== undefined);
  };
  const lookInside = (level: UserLevel, path: readonly string[], values: Values): readonly MessageFinding[] =>
    Object.entries(values).flatMap(([name, value]) => {
      const own = level.get(name);
      const at = [...path, name];
      return own ? onPlanned(own, at, value) : onUnplanned(at, value, [...level.keys()]);
    });
  const onPlanned = (own: UserValueTest, path: readonly string[], value: unknown): readonly MessageFinding[] => {
    const f = own.test(value);
    return f ? [f] : own.inner && isObject(value) ? lookInside(own.inner, path, value) : NONE;
  };
  return (values) => {
    let found: MessageFinding[] | undefined;
    for (const name in values) {
      if (!Object.hasOwn(values, name)) continue;
      const own = known.get(name);
      const said = own ? onPlanned(own, [name], values[name]) : onUnplanned([name], values[name], names);
      if (said.length > 0) (found ??= []).push(...said);
    }
    return found ?? NONE;
  };
};

interface UserValueTest {
  readonly test: ReturnType<typeof valueTest>;
  readonly inner: UserLevel | undefined;
}
type UserLevel = Map<string, UserValueTest>;

/** The tests of what is at one place, and of what is inside of it. */
const userLevel = (all: readonly PlannedProperty[], path: readonly string[], severityOf: SeverityOf): UserLevel =>
  new Map(
    standingIn(all, path).map(({ property }) => {
      const at = [...path, property.name];
      const inner = userLevel(all, at, severityOf);
      const own = inner.size > 0 ? lookedInto(property) : property;
      return [property.name, { test: valueTest(own, severityOf, ['user_properties', ...at]), inner: inner.size > 0 ? inner : undefined }];
    }),
  );
