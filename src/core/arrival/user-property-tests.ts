/** What a checker looks at in the user properties that a message sets: names, and the values of those that are planned, at any depth. */
import { blank } from '../plan/defaults';
import { standingIn, withOuters } from '../plan/outers';
import { entries, type Plan, type PlannedProperty, type Property, type UserProperty } from '../plan/plan';
import { isObject, named, refOf, refOfProperty, refText } from '../plan/property-path';
import { swappedUserProperty as swappedIn } from '../plan/swapped';
import { personalData, placeText } from './checks/personal-data';
import { swappedUserProperty } from './checks/swapped-user-property';
import { unplannedParams } from './checks/unplanned-property';
import { unplannedUserProperty } from './checks/unplanned-user-property';
import type { MessageFinding } from './message-finding';
import { lookedInto, NONE, REMEMBERED, valueTests, type SeverityOf, type Test, type Values } from './message-tests';
import { masked, personalPlaceIn } from './personal-data';

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
export const userPropertyTest = (plan: Plan, severityOf: SeverityOf): Test<Values> => {
  const all = entries(plan, 'userProperty').flatMap(([id, u]) => (u.retired ? [] : [{ id, property: asProperty(u), required: false, u }]));
  const planned = all.filter(({ u }) => !u.within?.length);
  const names = planned.map(({ u }) => u.name);
  const known = userLevel(withOuters(all), [], severityOf);
  for (const { u } of planned) for (const former of u.formerNames) if (!known.has(former)) known.set(former, known.get(u.name)!);
  const [swapped, unplanned, personal] = [swappedUserProperty, unplannedUserProperty, personalData].map(severityOf);
  const params = new Map<string, ReturnType<typeof unplannedParams>>();
  const personalIn = (path: readonly string[], value: unknown): MessageFinding[] => {
    const place = personal === undefined ? undefined : personalPlaceIn(value);
    if (!place) return [];
    const about = { property: placeText(refText(refOf(path)), place.path), kind: place.kind, of: 'user property' };
    return [{ code: personalData.id, severity: personal!, path: ['user_properties', ...path], params: about }];
  };
  const lookInside = (level: UserLevel, path: readonly string[], values: Values): MessageFinding[] =>
    Object.entries(values).flatMap(([name, value]) => {
      const own = level.get(name);
      const at = [...path, name];
      if (!own) {
        const said =
          unplanned === undefined
            ? []
            : [
                {
                  code: unplannedUserProperty.id,
                  severity: unplanned,
                  path: ['user_properties', ...at],
                  params: unplannedParams(at, [...level.keys()]),
                },
              ];
        return [...said, ...personalIn(at, value)];
      }
      const f = firstOf(own.tests, value);
      return f ? [f] : own.inner && isObject(value) ? lookInside(own.inner, at, value) : [];
    });
  return (values) => {
    let found: MessageFinding[] | undefined;
    for (const name in values) {
      if (!Object.hasOwn(values, name)) continue;
      const value = values[name];
      const own = known.get(name);
      if (own) {
        const f = firstOf(own.tests, value);
        if (f) (found ??= []).push(f);
        else if (own.inner && isObject(value)) {
          const inside = lookInside(own.inner, [name], value);
          if (inside.length > 0) (found ??= []).push(...inside);
        }
        continue;
      }
      const path = ['user_properties', name];
      const meant = swapped === undefined ? undefined : swappedIn(plan, name, value);
      if (meant !== undefined && swapped !== undefined) {
        const was = { sent: name, value: masked(String(value).slice(0, 60)), meant: plan.userProperty[meant]!.name };
        (found ??= []).push({ code: swappedUserProperty.id, severity: swapped, path: ['user_properties', was.meant], params: was });
        continue;
      }
      if (unplanned !== undefined) {
        let p = params.get(name);
        if (!p) {
          p = unplannedParams(name, names);
          if (params.size < REMEMBERED) params.set(name, p);
        }
        (found ??= []).push({ code: unplannedUserProperty.id, severity: unplanned, path, params: p });
      }
      const onValue = personalIn([name], value);
      if (onValue.length > 0) (found ??= []).push(...onValue);
    }
    return found ?? NONE;
  };
};

interface UserValueTest {
  readonly tests: ReturnType<typeof valueTests>;
  readonly inner: UserLevel | undefined;
}
type UserLevel = Map<string, UserValueTest>;

/** The tests of what stands at one place, and of what is inside of it. */
const userLevel = (all: readonly PlannedProperty[], path: readonly string[], severityOf: SeverityOf): UserLevel =>
  new Map(
    standingIn(all, path).map(({ property }) => {
      const at = [...path, property.name];
      const inner = userLevel(all, at, severityOf);
      const own = inner.size > 0 ? lookedInto(property) : property;
      return [property.name, { tests: valueTests(own, severityOf, ['user_properties', ...at]), inner: inner.size > 0 ? inner : undefined }];
    }),
  );

const firstOf = (tests: UserValueTest['tests'], value: unknown): MessageFinding | undefined => {
  for (const test of tests) {
    const f = test(value);
    if (f) return f;
  }
  return undefined;
};
