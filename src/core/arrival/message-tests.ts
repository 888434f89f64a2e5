/** What a checker looks at besides the planned properties: identifiers, user properties, and names that are not planned. */
import type { Severity } from '../findings/severity';
import { isPlaceholderId } from '../identity/placeholder';
import { foldName } from '../naming/likeness';
import { entries, type IdentifierKind, type Plan, type Property } from '../plan/plan';
import { patternOf } from '../plan/pattern';
import type { MessageFinding } from './message-finding';
import { identifierAsProperty } from './checks/identifier-as-property';
import { malformedIdentifier } from './checks/malformed-identifier';
import { noIdentifier } from './checks/no-identifier';
import { personalIdentifier } from './checks/personal-identifier';
import { placeholderValue } from './checks/placeholder-value';
import { unplannedParams, unplannedProperty } from './checks/unplanned-property';
import { masked, mayBePersonal, personalDataIn, personalPlaceIn } from './personal-data';
import { personalData, placeText } from './checks/personal-data';
import { valueChecks } from './checks/index';
import { unplannedIdentifier } from './checks/unplanned-identifier';
import { pathOf, refText, type PropertyRef } from '../plan/property-path';

/** The severity in force for a check; `undefined` where it is switched off. */
export type SeverityOf = (check: { readonly id: string; readonly severity: Severity }) => Severity | undefined;
export type Test<T> = (given: T) => readonly MessageFinding[];
export type Values = { readonly [name: string]: unknown };

export const NONE: readonly MessageFinding[] = Object.freeze([]);
export const REMEMBERED = 1000;

const AT = 64;
const PLUS = 43;
const BRACKET = 40;
const BLANK = 32;
const MOST_KINDS = 16;
const MOST_NAME = 200;

/** Short texts are looked through here, which is faster than the call. */
const hasAt = (s: string): boolean => {
  if (s.length > 8) return s.includes('@');
  for (let i = 0; i < s.length; i++) if (s.charCodeAt(i) === AT) return true;
  return false;
};

const ACCOUNT_START = /[A-Z]{2}\d\d/;
/** Whether an identifier without an @ may be a telephone or an account at all: most are not, and end here. */
const mayBeAddress = (value: string): boolean => {
  const c = value.charCodeAt(0);
  return c === PLUS || c === BRACKET || c <= BLANK || c > 126 || ACCOUNT_START.test(value);
};

/** Test of the identifiers of a message. */
export const identifierTest = (plan: Plan, severityOf: SeverityOf): Test<{ readonly [kind: string]: string }> => {
  const kinds = entries(plan, 'identifierKind').map(([, k]) => k);
  const names = kinds.map((k) => k.name);
  const [placeholder, none, malformed, personal] = [placeholderValue, noIdentifier, malformedIdentifier, personalIdentifier].map(
    severityOf,
  );
  const compiled = ({ name, pattern, personalData, sample }: Pick<IdentifierKind, 'name' | 'pattern' | 'personalData' | 'sample'>) => ({
    planned: name !== '',
    sample: sample.trim(),
    source: pattern,
    pattern: malformed === undefined ? undefined : patternOf(pattern),
    address: personal !== undefined && !personalData,
  });
  const byName = new Map(kinds.map((k) => [k.name, compiled(k)]));
  const unplannedSeverity = kinds.length === 0 ? undefined : severityOf(unplannedIdentifier);
  const unplanned = compiled({ pattern: '', personalData: false, sample: '', name: '' });
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
      if (!known.planned && unplannedSeverity !== undefined)
        (found ??= []).push({
          code: unplannedIdentifier.id,
          severity: unplannedSeverity,
          path: ['ids', kind.slice(0, MOST_NAME)],
          params: { kind: kind.slice(0, MOST_NAME), planned: names },
        });
      const isSample = known.sample !== '' && value.trim() === known.sample;
      if (isSample || isPlaceholderId(value)) {
        if (placeholder === undefined) continue;
        const params = { property: kind, value: value.slice(0, 60), identifier: true, ...(isSample ? { sample: true } : {}) };
        (found ??= []).push({ code: placeholderValue.id, severity: placeholder, path: ['ids', kind], params });
        continue;
      }
      // Bare digits may be anything; what has the form of an address, an account or a telephone is that.
      if (known.address && (hasAt(value) || (mayBeAddress(value) && mayBePersonal(value)))) {
        const data = personalDataIn(value);
        if (data === 'e-mail address' || data === 'bank account number' || (data === 'telephone number' && /^[+(]/.test(value.trim()))) {
          (found ??= []).push({ code: personalIdentifier.id, severity: personal!, path: ['ids', kind], params: { kind, data } });
          continue;
        }
      }
      if (known.pattern?.test(value) === false)
        (found ??= []).push({
          code: malformedIdentifier.id,
          severity: malformed!,
          path: ['ids', kind],
          params: { kind, value: masked(value.slice(0, 60)), pattern: known.source },
        });
    }
    if (i === 0 && none !== undefined && names.length > 0)
      (found ??= []).push({ code: noIdentifier.id, severity: none, path: ['ids'], params: { kinds: names } });
    return found ?? NONE;
  };
};

/** Tests of a planned value, in the order of the checks. */
export const valueTests = (
  property: Property,
  severityOf: SeverityOf,
  path: readonly (string | number)[],
): ((v: unknown) => MessageFinding | undefined)[] =>
  valueChecks.flatMap((check) => {
    const severity = severityOf(check);
    const test = check.compile(property) as ((v: unknown) => unknown) | undefined;
    if (!test || severity === undefined) return [];
    return [
      (v: unknown): MessageFinding | undefined => {
        const params = test(v);
        return params === undefined ? undefined : { code: check.id, severity, path, params };
      },
    ];
  });

/** An object whose inside is looked at name by name: what may be personal is said of each. */
export const lookedInto = (p: Property): Property => ({ ...p, personalData: 'personal' });

/** Test of a value whose property is not planned: personal data at any depth. */
export const unplannedValueTest = (severityOf: SeverityOf): ((ref: PropertyRef, value: unknown) => MessageFinding | undefined) => {
  const severity = severityOf(personalData);
  return (ref, value) => {
    const place = severity === undefined || typeof value === 'number' || typeof value === 'boolean' ? undefined : personalPlaceIn(value);
    return (
      place && {
        code: personalData.id,
        severity: severity!,
        path: ['properties', ...pathOf(ref)],
        params: { property: placeText(refText(ref), place.path), kind: place.kind },
      }
    );
  };
};

/** Test of the address of a page: what is typed into a form often stands in its query. */
export const pageTest = (severityOf: SeverityOf): ((page: string) => MessageFinding | undefined) => {
  const severity = severityOf(personalData);
  return (page) => {
    if (severity === undefined || !mayBePersonal(page)) return undefined;
    const kind = personalDataIn(decodedPage(page));
    return kind && { code: personalData.id, severity, path: ['page'], params: { property: 'page', kind, of: 'page' } };
  };
};

const decodedPage = (page: string): string => {
  try {
    return decodeURIComponent(page);
  } catch {
    return page;
  }
};

/** What is to be said of a property that is not planned on an event, worked out once for each name; `undefined` for nothing. */
export const unplannedTest = (
  plan: Plan,
  severityOf: SeverityOf,
): ((
  ref: PropertyRef,
  planned: readonly string[],
) => { readonly always: MessageFinding | undefined; readonly without: readonly [string, MessageFinding] | undefined }) => {
  const automatic = new Set(entries(plan, 'source').flatMap(([, s]) => s.automaticProperties));
  const [unplanned, identifier] = [severityOf(unplannedProperty), severityOf(identifierAsProperty)];
  const kindOf = new Map(entries(plan, 'identifierKind').flatMap(([, k]) => [[foldName(`${k.name} id`), k.name] as const]));
  return (ref, planned) => {
    const path = ['properties', ...pathOf(ref)];
    // A library adds to the message itself, and it is there that an identifier may stand by mistake.
    const own = typeof ref === 'string' ? ref : undefined;
    const kind = own === undefined ? undefined : kindOf.get(foldName(own));
    return {
      always:
        unplanned === undefined || (own !== undefined && automatic.has(own))
          ? undefined
          : { code: unplannedProperty.id, severity: unplanned, path, params: unplannedParams(ref, planned) },
      without:
        kind === undefined || identifier === undefined
          ? undefined
          : [kind, { code: identifierAsProperty.id, severity: identifier, path, params: { property: own!, kind } }],
    };
  };
};
