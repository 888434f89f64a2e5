/** What a checker looks at besides the planned properties: identifiers, user properties, and names that are not planned. */
import type { Severity } from '../findings/severity';
import { isPlaceholderId } from '../identity/placeholder';
import { foldName } from '../naming/likeness';
import { entries, type IdentifierKind, type Plan } from '../plan/plan';
import { patternOf } from '../plan/sample';
import { swappedUserProperty as swappedIn } from '../plan/swapped';
import type { MessageFinding } from './message-finding';
import { identifierAsProperty } from './checks/identifier-as-property';
import { malformedIdentifier } from './checks/malformed-identifier';
import { noIdentifier } from './checks/no-identifier';
import { personalIdentifier } from './checks/personal-identifier';
import { placeholderValue } from './checks/placeholder-value';
import { swappedUserProperty } from './checks/swapped-user-property';
import { unplannedParams, unplannedProperty } from './checks/unplanned-property';
import { unplannedUserProperty } from './checks/unplanned-user-property';
import { personalDataIn } from './personal-data';

/** The severity in force for a check; `undefined` where it is switched off. */
export type SeverityOf = (check: { readonly id: string; readonly severity: Severity }) => Severity | undefined;
type Test<T> = (given: T) => readonly MessageFinding[];
type Values = { readonly [name: string]: unknown };

const NONE: readonly MessageFinding[] = Object.freeze([]);
const REMEMBERED = 1000;

const AT = 64;
const MOST_KINDS = 16;

/** Short texts are looked through here, which is faster than the call. */
const hasAt = (s: string): boolean => {
  if (s.length > 8) return s.includes('@');
  for (let i = 0; i < s.length; i++) if (s.charCodeAt(i) === AT) return true;
  return false;
};

/** Test of the identifiers of a message. */
export const identifierTest = (plan: Plan, severityOf: SeverityOf): Test<{ readonly [kind: string]: string }> => {
  const kinds = entries(plan, 'identifierKind').map(([, k]) => k);
  const names = kinds.map((k) => k.name);
  const [placeholder, none, malformed, personal] = [placeholderValue, noIdentifier, malformedIdentifier, personalIdentifier].map(
    severityOf,
  );
  const compiled = ({ pattern, personalData }: Pick<IdentifierKind, 'pattern' | 'personalData'>) => ({
    source: pattern,
    pattern: malformed === undefined || pattern === '' ? undefined : patternOf(pattern),
    address: personal !== undefined && !personalData,
  });
  const byName = new Map(kinds.map((k) => [k.name, compiled(k)]));
  const unplanned = compiled({ pattern: '', personalData: false });
  /** The kinds of the last message, in its order: mostly those of the next one too. */
  const lastKinds: string[] = [];
  const lastCompiled: ReturnType<typeof compiled>[] = [];
  return (ids) => {
    let found: MessageFinding[] | undefined;
    let i = 0;
    for (const kind in ids) {
      const value = ids[kind]!;
      if (lastKinds[i] !== kind) {
        if (i > MOST_KINDS) i = MOST_KINDS;
        lastKinds[i] = kind;
        lastCompiled[i] = byName.get(kind) ?? unplanned;
      }
      const known = lastCompiled[i++]!;
      if (isPlaceholderId(value)) {
        if (placeholder === undefined) continue;
        const params = { property: kind, value: value.slice(0, 60), identifier: true };
        (found ??= []).push({ code: placeholderValue.id, severity: placeholder, path: ['ids', kind], params });
        continue;
      }
      // Digits may be anything; an address is one.
      if (known.address && hasAt(value)) {
        const data = personalDataIn(value);
        if (data === 'e-mail address') {
          (found ??= []).push({ code: personalIdentifier.id, severity: personal!, path: ['ids', kind], params: { kind, data } });
          continue;
        }
      }
      if (known.pattern?.test(value) === false)
        (found ??= []).push({
          code: malformedIdentifier.id,
          severity: malformed!,
          path: ['ids', kind],
          params: { kind, value: value.slice(0, 60), pattern: known.source },
        });
    }
    if (i === 0 && none !== undefined && names.length > 0)
      (found ??= []).push({ code: noIdentifier.id, severity: none, path: ['ids'], params: { kinds: names } });
    return found ?? NONE;
  };
};

/** Test of the user properties that a message sets. */
export const userPropertyTest = (plan: Plan, severityOf: SeverityOf): Test<Values> => {
  const planned = entries(plan, 'userProperty').filter(([, u]) => !u.retired);
  const names = planned.map(([, u]) => u.name);
  const known = new Set(names);
  const [swapped, unplanned] = [severityOf(swappedUserProperty), severityOf(unplannedUserProperty)];
  const params = new Map<string, ReturnType<typeof unplannedParams>>();
  return (values) => {
    let found: MessageFinding[] | undefined;
    for (const name in values) {
      if (!Object.hasOwn(values, name) || known.has(name)) continue;
      const value = values[name];
      const path = ['user_properties', name];
      const meant = swapped === undefined ? undefined : swappedIn(plan, name, value);
      if (meant !== undefined && swapped !== undefined) {
        const was = { sent: name, value: String(value).slice(0, 60), meant: plan.userProperty[meant]!.name };
        (found ??= []).push({ code: swappedUserProperty.id, severity: swapped, path: ['user_properties', was.meant], params: was });
      } else if (unplanned !== undefined) {
        let p = params.get(name);
        if (!p) {
          p = unplannedParams(name, names);
          if (params.size < REMEMBERED) params.set(name, p);
        }
        (found ??= []).push({ code: unplannedUserProperty.id, severity: unplanned, path, params: p });
      }
    }
    return found ?? NONE;
  };
};

/** What is to be said of a property that is not planned on an event, worked out once for each name; `undefined` for nothing. */
export const unplannedTest = (
  plan: Plan,
  severityOf: SeverityOf,
): ((
  name: string,
  planned: readonly string[],
) => { readonly always: MessageFinding | undefined; readonly without: readonly [string, MessageFinding] | undefined }) => {
  const automatic = new Set(entries(plan, 'source').flatMap(([, s]) => s.automaticProperties));
  const [unplanned, identifier] = [severityOf(unplannedProperty), severityOf(identifierAsProperty)];
  const kindOf = new Map(entries(plan, 'identifierKind').flatMap(([, k]) => [[foldName(`${k.name} id`), k.name] as const]));
  return (name, planned) => {
    const path = ['properties', name];
    const kind = kindOf.get(foldName(name));
    return {
      always:
        automatic.has(name) || unplanned === undefined
          ? undefined
          : { code: unplannedProperty.id, severity: unplanned, path, params: unplannedParams(name, planned) },
      without:
        kind === undefined || identifier === undefined
          ? undefined
          : [kind, { code: identifierAsProperty.id, severity: identifier, path, params: { property: name, kind } }],
    };
  };
};
