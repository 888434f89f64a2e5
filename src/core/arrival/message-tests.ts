/** The checks on a message, put together by the part that they look at: severities, places, and what speaks first. Their logic is in checks/. */
import { settingsOf, type Plan, type Property } from '../plan/plan';
import { refOfProperty, pathOf, type PropertyRef } from '../plan/property-path';
import type { CheckWords, Looks, MessageCheck, Part, PlannedKind } from './check';
import { formerName, formerProperty } from './checks/former-name';
import { messageChecks, valueChecks } from './checks/index';
import { personalData, personalInPage, personalInUnplanned, type PersonalDataFound } from './checks/personal-data';
import { isPlaceholder } from '../identity/placeholder';
import { placeholderIdentifier, placeholderValue } from './checks/placeholder-value';
import type { Severity } from '../findings/severity';
import type { MessageFinding } from './message-finding';

/** The severity in force for a check; `undefined` where it is switched off. */
export type SeverityOf = (check: { readonly id: string; readonly severity: Severity }) => Severity | undefined;
export type Values = { readonly [name: string]: unknown };
export type Place = readonly (string | number)[];

export const NONE: readonly MessageFinding[] = Object.freeze([]);

export const severitiesOf = (plan: Plan): SeverityOf => {
  const { rules } = settingsOf(plan);
  return ({ id, severity }) => (rules[id]?.off ? undefined : (rules[id]?.severity ?? severity));
};

/** What a check found, as a finding: the one place where params meet their code. */
const finding = (check: { readonly id: string }, severity: Severity, path: Place, params: unknown): MessageFinding =>
  ({ code: check.id, severity, path, params }) as MessageFinding;

type AnyCheck<P extends Part> = CheckWords<string, unknown> & Pick<MessageCheck<string, unknown, P>, 'excusedBy' | 'place'>;

/** The checks of a part that are in force, compiled, in the order of the registry. */
const looksAt = <P extends Part>(
  part: P,
  plan: Plan,
  severityOf: SeverityOf,
): { readonly look: Looks<unknown>[P]; readonly check: AnyCheck<P>; readonly found: (at: Place, params: unknown) => MessageFinding }[] =>
  (messageChecks as readonly object[] as readonly MessageCheck<string, unknown, P>[]).flatMap((check) => {
    const severity = check.on === part ? severityOf(check) : undefined;
    const look = severity === undefined ? undefined : check.compile(plan);
    if (severity === undefined || look === undefined) return [];
    return [{ look, check, found: (at: Place, params: unknown) => finding(check, severity, check.place?.(params) ?? at, params) }];
  });

/** The first of several tests that finds something. What they are given is written out: a list of arguments would be made anew each time. */
const firstOf = <A, B, C>(
  tests: readonly ((a: A, b: B, c: C) => MessageFinding | undefined)[],
): ((a: A, b?: B, c?: C) => MessageFinding | undefined) => {
  const [one, two] = tests as readonly ((a: A, b?: B, c?: C) => MessageFinding | undefined)[];
  if (!one) return () => undefined;
  if (!two) return one;
  if (tests.length === 2) return (a, b, c) => one(a, b, c) ?? two(a, b, c);
  return (a, b, c) => {
    for (const test of tests) {
      const found = test(a, b as B, c as C);
      if (found) return found;
    }
    return undefined;
  };
};

const BLANK_KIND: PlannedKind = { name: '', pattern: '', personalData: false, sample: '' };
const MAX_KINDS = 16;
const MAX_NAME = 200;

interface KindTests {
  /** What is said of the kind, where it is not planned. */
  readonly unplanned: readonly ((kind: string) => MessageFinding | undefined)[];
  /** What is no identifier at all, which ends the look at it: a finding, or nothing where that check is off. */
  readonly placeholder: (value: string, kind: string) => PlaceholderFound;
  readonly test: (value: string, kind: string) => MessageFinding | undefined;
}
type PlaceholderFound = ReturnType<ReturnType<typeof placeholderIdentifier>>;

/** Test of the identifiers of a message. */
export const identifierTest = (
  plan: Plan,
  severityOf: SeverityOf,
): ((ids: { readonly [kind: string]: string }) => readonly MessageFinding[]) => {
  const onKind = looksAt('unplanned kind', plan, severityOf);
  const onValue = looksAt('identifier', plan, severityOf);
  const onNone = looksAt('no identifiers', plan, severityOf);
  const placeholderSeverity = severityOf(placeholderValue);
  const compiled = (planned: PlannedKind): KindTests => ({
    placeholder: placeholderIdentifier(planned),
    unplanned:
      planned.name !== ''
        ? []
        : onKind.map(({ look, found }) => (kind) => {
            const params = look(kind);
            return params === undefined ? undefined : found(['ids', kind.slice(0, MAX_NAME)], params);
          }),
    test: firstOf(
      onValue.flatMap(({ look, found }) => {
        const test = look(planned);
        if (!test) return [];
        return [
          (value: string, kind: string): MessageFinding | undefined => {
            const params = test(value, kind);
            return params === undefined ? undefined : found(['ids', kind], params);
          },
        ];
      }),
    ),
  });
  const byName = new Map(Object.values(plan.identifierKind).map((k) => [k.name, compiled(k)]));
  const unplanned = compiled(BLANK_KIND);
  /** The kinds of the last message, in its order: mostly those of the next one too. */
  const lastKinds: string[] = [];
  const lastCompiled: KindTests[] = [];
  return (ids) => {
    let all: MessageFinding[] | undefined;
    let i = 0;
    for (const kind in ids) {
      const value = ids[kind]!;
      if (lastKinds[i] !== kind) {
        if (i > MAX_KINDS) i = MAX_KINDS;
        lastKinds[i] = kind;
        lastCompiled[i] = byName.get(kind) ?? unplanned;
      }
      const known = lastCompiled[i++]!;
      for (const test of known.unplanned) {
        const f = test(kind);
        if (f) (all ??= []).push(f);
      }
      const params = known.placeholder(value, kind);
      const f = params === undefined ? known.test(value, kind) : ofPlaceholder(params, placeholderSeverity, kind);
      if (f) (all ??= []).push(f);
    }
    if (i === 0)
      for (const { look, found } of onNone) {
        const params = look();
        if (params !== undefined) (all ??= []).push(found(['ids'], params));
      }
    return all ?? NONE;
  };
};

const ofPlaceholder = (params: PlaceholderFound, severity: Severity | undefined, kind: string): MessageFinding | undefined =>
  severity === undefined ? undefined : finding(placeholderValue, severity, ['ids', kind], params);

/** Test of the name of an event. */
export const nameTest = (plan: Plan, severityOf: SeverityOf): ((name: string) => MessageFinding | undefined) =>
  firstOf(
    looksAt('name', plan, severityOf).map(({ look, found }) => (name: string) => {
      const params = look(name);
      return params === undefined ? undefined : found(['name'], params);
    }),
  );

/** Test of a planned value: the checks in their order, of which the first that finds something speaks. */
export const valueTest = (property: Property, severityOf: SeverityOf, path: Place): ((v: unknown) => MessageFinding | undefined) =>
  firstOf(
    valueChecks.flatMap((check) => {
      const severity = severityOf(check);
      const test = check.compile(property) as ((v: unknown) => unknown) | undefined;
      if (!test || severity === undefined) return [];
      return [
        (v: unknown): MessageFinding | undefined => {
          const params = test(v);
          return params === undefined ? undefined : finding(check, severity, path, params);
        },
      ];
    }),
  );

/** Test of a planned property on an event. */
export const propertyTest = (property: Property, severityOf: SeverityOf): ((v: unknown) => MessageFinding | undefined) =>
  valueTest(property, severityOf, ['properties', ...pathOf(refOfProperty(property))]);

/** An object whose inside is looked at name by name: what may be personal is said of each. */
export const lookedInto = (p: Property): Property => ({ ...p, personalData: 'personal' });

/** Test of a value of which nothing is planned, at its place in the message. */
export const unplannedValueTest = (
  severityOf: SeverityOf,
  at: 'properties' | 'user_properties',
): ((ref: PropertyRef, value: unknown) => MessageFinding | undefined) => {
  const severity = severityOf(personalData);
  if (severity === undefined) return () => undefined;
  const of: PersonalDataFound['of'] = at === 'properties' ? undefined : 'user property';
  return (ref, value) => {
    const params = personalInUnplanned(ref, value, of);
    return params && finding(personalData, severity, [at, ...pathOf(ref)], params);
  };
};

/** Test of the address of a page. */
export const pageTest = (severityOf: SeverityOf): ((page: string) => MessageFinding | undefined) => {
  const severity = severityOf(personalData);
  return (page) => {
    const params = severity === undefined ? undefined : personalInPage(page);
    return params && finding(personalData, severity!, ['page'], params);
  };
};

/** A template that was never filled in, in a field around the properties: a snippet was copied, and nothing replaced. */
export const envelopeTest = (severityOf: SeverityOf): ((field: 'id' | 'release' | 'page', value: string) => MessageFinding | undefined) => {
  const severity = severityOf(placeholderValue);
  return (field, value) =>
    severity !== undefined && OPENS_TEMPLATE.test(value) && isPlaceholder(value)
      ? finding(placeholderValue, severity, [field], { property: field, value: value.slice(0, 60), identifier: false })
      : undefined;
};
/** Words such as "test" are releases and IDs as good as any. */
const OPENS_TEMPLATE = /^\s*[{$<%[#]/;

/** Test of what a sender says of all that it does not send. */
export const shareTest = (
  plan: Plan,
  severityOf: SeverityOf,
): ((rate: number | undefined, lost: number | undefined) => readonly MessageFinding[]) => {
  const onRate = looksAt('sample rate', plan, severityOf);
  const onLost = looksAt('lost before', plan, severityOf);
  const all = (looks: typeof onRate | typeof onLost, field: string, n: number | undefined): MessageFinding[] =>
    n === undefined
      ? []
      : looks.flatMap(({ look, found }) => {
          const params = look(n);
          return params === undefined ? [] : [found([field], params)];
        });
  return (rate, lost) => [...all(onRate, 'sample_rate', rate), ...all(onLost, 'dropped_before', lost)];
};

/** What is said of a required property that is not there, at its place. */
export const missingTest = (plan: Plan, severityOf: SeverityOf): ((property: PropertyRef) => readonly MessageFinding[]) => {
  const looks = looksAt('missing property', plan, severityOf);
  return (property) =>
    looks.flatMap(({ look, found }) => {
      const params = look(property);
      return params === undefined ? [] : [found(['properties', ...pathOf(property)], params)];
    });
};

/** Something said of a name that is not planned, and the kind of identifier with which a message is excused. */
export interface UnplannedFound {
  readonly finding: MessageFinding;
  readonly excusedBy: string | undefined;
}

/** What is to be said of a property that is not planned on an event: the same of each message, but for what it is excused by. */
export const unplannedTest = (
  plan: Plan,
  severityOf: SeverityOf,
): ((ref: PropertyRef, planned: readonly string[]) => readonly UnplannedFound[]) => {
  const looks = looksAt('unplanned property', plan, severityOf);
  return (ref, planned) =>
    looks.flatMap(({ look, check, found }) => {
      const params = look(ref, planned);
      if (params === undefined) return [];
      return [{ finding: found(['properties', ...pathOf(ref)], params), excusedBy: check.excusedBy?.(params) }];
    });
};

/** Test of the name and value of a user property that is not planned. */
export const unplannedUserTest = (
  plan: Plan,
  severityOf: SeverityOf,
): ((ref: PropertyRef, value: unknown, planned: readonly string[]) => MessageFinding | undefined) =>
  firstOf(
    looksAt('unplanned user property', plan, severityOf).map(({ look, found }) => (ref, value, planned) => {
      const params = look(ref, value, planned);
      return params === undefined ? undefined : found(['user_properties', ...pathOf(ref)], params);
    }),
  );

/** What is said of a former name of a property, in its place. */
export const formerTest = (
  severityOf: SeverityOf,
): ((path: readonly string[], name: string, now: string) => MessageFinding | undefined) => {
  const severity = severityOf(formerName);
  return (path, name, now) =>
    severity === undefined ? undefined : finding(formerName, severity, ['properties', ...path, name], formerProperty(path, name, now));
};
