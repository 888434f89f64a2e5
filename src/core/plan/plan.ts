/** The plan: the document that says what is tracked, by whom, and for which question.
 *  Belongs here: the shape of the document and plain look-ups. Not here: edits, checks, storage.
 *  Long because the document is one shape: its kinds are read together. */
import { refOfProperty, refText, sameRef, type PropertyPath, type PropertyRef } from './property-path';
import type { Definition } from '../definitions/definition';
import type { Formula } from '../questions/formula';
import type { TrialScript } from '../trial/script';
import type { CaseStyle } from '../naming/case-style';
import type { RuleSettings } from '../findings/severity';

export type Id = string;

export const KINDS = [
  'settings',
  'source',
  'question',
  'event',
  'property',
  'sharedSet',
  'userProperty',
  'identifierKind',
  'definition',
  'trial',
] as const;
export type Kind = (typeof KINDS)[number];

export const SOURCE_KINDS = ['web', 'mobile', 'kiosk', 'server'] as const;
export type SourceKind = (typeof SOURCE_KINDS)[number];

export const TRIGGER_KINDS = ['completed', 'attempted', 'viewed', 'milestone', 'state changed'] as const;
export type TriggerKind = (typeof TRIGGER_KINDS)[number];

export const BUILD_STATES = ['proposed', 'agreed', 'built', 'seen', 'verified', 'retired'] as const;
export type BuildState = (typeof BUILD_STATES)[number];

export const PROPERTY_TYPES = [
  'string', 'number', 'integer', 'boolean', 'timestamp', 'object',
  'list of string', 'list of number', 'list of integer', 'list of boolean',
] as const; // prettier-ignore
export type PropertyType = (typeof PROPERTY_TYPES)[number];

export const PERSONAL_DATA_CLASSES = ['none', 'pseudonymous', 'personal', 'sensitive'] as const;
export type PersonalDataClass = (typeof PERSONAL_DATA_CLASSES)[number];

export const FORMATS = ['UUID', 'e-mail', 'URL', 'currency', 'country', 'language', 'date', 'date-time'] as const;
export type Format = (typeof FORMATS)[number];

export const ONCE_PER = ['page view', 'session', 'person'] as const;
export type OncePer = (typeof ONCE_PER)[number];

export const WRITES = ['set', 'set once', 'add'] as const;

/** What has to be in place at a source before its events are built. */
export interface Prerequisite {
  readonly what: string;
  /** A value that its library can carry by itself once it is switched on, or a setting that events take over. */
  readonly kind: 'built-in value' | 'shared setting';
  /** Events that do not take it over: what it gives has to be sent with each of them. */
  readonly notInheritedBy: readonly Id[];
  readonly done: boolean;
}

export interface Source {
  readonly name: string;
  readonly kind: SourceKind;
  readonly environment: string;
  /** One letter shown in the source's mark. */
  readonly mark: string;
  readonly owner: string;
  readonly expectedLagMs: number;
  readonly automaticProperties: readonly string[];
  /** Events that its library sends on its own. */
  readonly automaticEvents?: readonly string[];
  readonly prerequisites?: readonly Prerequisite[] | undefined;
  readonly idKinds: { readonly beforeSignIn: readonly string[]; readonly afterSignIn: readonly string[] };
}

export interface EventSource {
  readonly sourceId: Id;
  readonly required: boolean;
  readonly build: BuildState;
  readonly since?: string;
}

export interface EventProperty {
  readonly propertyId: Id;
  readonly required: boolean;
  /** Narrower than the property's own list, on this event alone. */
  readonly allowed?: readonly string[];
}

/** A milestone series: a property and its values in the order in which they come. */
export interface Series {
  readonly property: PropertyRef;
  readonly values: readonly string[];
}

export interface Counterpart {
  readonly eventName: string;
  readonly keyProperty: PropertyRef;
  readonly windowMs: number;
}

export interface PlanEvent {
  readonly name: string;
  readonly object: string;
  readonly action: string;
  readonly description: string;
  readonly trigger: string;
  readonly triggerKind: TriggerKind;
  readonly flow: string;
  readonly order: number;
  readonly sources: readonly EventSource[];
  readonly properties: readonly EventProperty[];
  readonly sharedSets: readonly Id[];
  readonly counterpart?: Counterpart;
  readonly series?: Series;
  /** Only on pages or screens under this path; everywhere when empty. */
  readonly scope: string;
  /** At most once per so much; no limit when empty. */
  readonly oncePer: OncePer | '';
  readonly conversion: boolean;
  readonly owner: string;
  readonly notes: string;
  /** Why it is tracked although no question needs it. */
  readonly keepReason: string;
  readonly retired: boolean;
  readonly formerNames: readonly string[];
}

export interface Property {
  readonly name: string;
  /** The names of the objects that its value is in, from the outside in; none where it is on its own in the message. */
  readonly within?: PropertyPath;
  readonly description: string;
  readonly type: PropertyType;
  readonly unit: string;
  readonly allowed: readonly string[];
  readonly min?: number;
  readonly max?: number;
  readonly pattern: string;
  readonly format: Format | '';
  readonly samples: readonly string[];
  /** Expected number of distinct values. */
  readonly distinct?: number;
  readonly describes: string;
  readonly personalData: PersonalDataClass;
  /** Why it is tracked although no question needs it. */
  readonly keepReason: string;
  readonly retired: boolean;
  readonly formerNames: readonly string[];
}

export interface SharedSet {
  readonly name: string;
  readonly description: string;
  readonly properties: readonly EventProperty[];
}

export interface UserProperty {
  readonly name: string;
  /** As of a property. */
  readonly within?: PropertyPath;
  readonly description: string;
  readonly type: PropertyType;
  readonly unit: string;
  readonly allowed: readonly string[];
  readonly samples: readonly string[];
  /** Upper bounds of the buckets that it is grouped by; none when it is grouped as it is. */
  readonly buckets: readonly number[];
  /** Expected number of distinct values. */
  readonly distinct?: number;
  readonly write: (typeof WRITES)[number];
  readonly personalData: PersonalDataClass;
  readonly sources: readonly Id[];
  /** Registered for reporting: from then on the name is locked. */
  readonly registered: boolean;
  /** UTC epoch ms. */
  readonly registeredAt?: number;
  /** For test use: it never counts as registered. */
  readonly temporary: boolean;
  readonly retired: boolean;
  readonly formerNames: readonly string[];
}

export interface IdentifierKind {
  readonly name: string;
  readonly description: string;
  readonly pattern: string;
  readonly sample: string;
  readonly stable: boolean;
  readonly personalData: boolean;
  readonly identifies: 'person' | 'device' | 'visit';
  readonly scope: 'one source' | 'all sources';
}

/** Shares of what conforms, 0..1. */
export interface Thresholds {
  readonly clear: number;
  readonly caution: number;
}

export interface OwnThresholds extends Thresholds {
  /** Who set them, and why. */
  readonly by?: string | undefined;
  readonly why?: string | undefined;
}

export interface Question {
  readonly text: string;
  readonly decision: string;
  readonly definition: string;
  readonly kind: 'metric' | 'question';
  readonly owner: string;
  readonly priority: number;
  readonly order: number;
  readonly formula: Formula | null;
  /** The workspace's when left out. */
  readonly thresholds?: OwnThresholds | undefined;
  /** Half the interval within which the figure is to be known: of a share in shares, of an amount relative to it; a usual one when left out. */
  readonly precision?: number | undefined;
}

/** An event made of what was recorded. It is never sent under its name, so it has no former names: renaming touches no message. */
export interface PlanDefinition extends Definition {
  readonly description: string;
  readonly owner: string;
  readonly conversion: boolean;
  /** Why it is kept although no question needs it. */
  readonly keepReason: string;
  readonly retired: boolean;
}

export interface NamingRules {
  readonly eventCase: CaseStyle;
  readonly propertyCase: CaseStyle;
  readonly userPropertyCase: CaseStyle;
  readonly wordOrder: 'object then action' | 'action then object';
  readonly tense: 'past' | 'present';
  /** Style of values on a list; `any` leaves them alone. */
  readonly valueCase: CaseStyle | 'any';
  readonly actions: readonly string[];
  readonly objects: readonly string[];
  /** Words that mean the same: the agreed one first. */
  readonly synonyms: readonly (readonly string[])[];
  readonly vagueNames: readonly string[];
  readonly reservedNames: readonly string[];
  readonly maxLength: number;
  /** Letters A to Z, digits, blanks and the separators - _ . / alone. */
  readonly plainCharacters: boolean;
}

/** Quotas of the place where the data goes. */
export interface Limits {
  readonly events: number;
  readonly userProperties: number;
  readonly conversions: number;
}

export interface IdentityRules {
  /** Pairs of identifier kinds that a message carrying both may link. */
  readonly links: readonly (readonly [string, string])[];
  /** Follow links at all; off means one person for each identifier. */
  readonly linking: boolean;
  /** At most this many identifiers of kind `user` in a person; 0 switches the guard off. */
  readonly maxUserIds: number;
  readonly placeholderGuard: boolean;
  /** A device or anonymous ID that more user IDs than this sign in on never links; 0 switches the guard off. */
  readonly sharedDeviceUsers: number;
  /** Identifiers that never link and identify nobody, whatever their kind. */
  readonly blocked: readonly string[];
  /** Pairs that must never be one person, each with its reason. */
  readonly cuts: readonly Cut[];
  /** Names of the events with which a person signs out. */
  readonly signOutEvents: readonly string[];
  /** Price of a thousand tracked persons a month, in the workspace's currency; 0 for none. */
  readonly pricePerThousand: number;
}

export interface Cut {
  readonly a: { readonly kind: string; readonly value: string };
  readonly b: { readonly kind: string; readonly value: string };
  readonly reason: string;
}

/** A message of an imagined person. */
export interface CaseStep {
  readonly title: string;
  readonly kind: 'event' | 'identify';
  readonly name: string;
  readonly source: string;
  readonly ids: { readonly [kind: string]: string };
}

/** A sequence of messages, and how many persons it must come to. */
export interface IdentityCase {
  readonly id: string;
  readonly title: string;
  readonly asks: string;
  readonly steps: readonly CaseStep[];
  readonly persons: number;
}

/** Who says so, and as of which day (ISO 8601 date; empty for none). */
export interface Provenance {
  readonly source: string;
  readonly asOf: string;
}

export interface Settings {
  readonly name: string;
  readonly timeZone: string;
  /** 1 = Monday … 7 = Sunday, as in ISO 8601. */
  readonly weekStartsOn: number;
  readonly currency: string;
  /** A wait says nothing before the first, is waiting up to the last, and a fault after it; what was fixed settles within the second. */
  readonly tooEarlyHours: number;
  readonly settlingHours: number;
  readonly escalationHours: number;
  /** This long without an event of the same person on the same source ends a session. */
  readonly sessionGapMinutes: number;
  /** Messages of different sources that are reversed by no more than this count as in order: their clocks differ. */
  readonly clockToleranceSeconds: number;
  /** What share must surely conform for a question to be clear, and not to stop, in percent; a question can have its own. */
  readonly clearFromPercent: number;
  readonly cautionFromPercent: number;
  /** How many years back the messages of a file may have happened. */
  readonly historyYears: number;
  /** Where a number of the workspace comes from, by the setting's name. */
  readonly provenance: { readonly [setting: string]: Provenance };
  readonly limits: Limits;
  readonly naming: NamingRules;
  readonly identity: IdentityRules;
  /** The workspace's own cases: they are tried whenever a version is published. */
  readonly identityCases: readonly IdentityCase[];
  readonly rules: RuleSettings;
}

export interface BodyOf {
  settings: Settings;
  source: Source;
  question: Question;
  event: PlanEvent;
  property: Property;
  sharedSet: SharedSet;
  userProperty: UserProperty;
  identifierKind: IdentifierKind;
  definition: PlanDefinition;
  trial: TrialScript;
}

export type Table<K extends Kind> = { readonly [id: Id]: BodyOf[K] };
export type Plan = { readonly [K in Kind]: Table<K> };

export const SETTINGS_ID = 'settings';

export const emptyPlan = (settings: Settings): Plan => ({
  settings: { [SETTINGS_ID]: settings },
  source: {},
  question: {},
  event: {},
  property: {},
  sharedSet: {},
  userProperty: {},
  identifierKind: {},
  definition: {},
  trial: {},
});

export const settingsOf = (plan: Plan): Settings => {
  const settings = plan.settings[SETTINGS_ID];
  if (!settings) throw new Error('plan without settings');
  return settings;
};

/** Years that a file may reach back; plans of old do not say it. */
export const historyYearsOf = (plan: Plan): number => (settingsOf(plan) as Partial<Settings>).historyYears ?? 10;

/** An entity by an ID that somebody sent: what every object has on its own is none. */
export const entityOf = <K extends Kind>(plan: Plan, kind: K, id: Id): BodyOf[K] | undefined =>
  Object.hasOwn(plan[kind], id) ? plan[kind][id] : undefined;

/** Units: ms. */
export const sessionGapMs = (plan: Plan): number => settingsOf(plan).sessionGapMinutes * 60_000;

export const entries = <K extends Kind>(plan: Plan, kind: K): [Id, BodyOf[K]][] => Object.entries<BodyOf[K]>(plan[kind]);

/** The word that a person would use for this entity: its name, a property's with its path, or a question's text. */
export const labelOf = (kind: Kind, body: unknown): string => {
  const b = body as { name?: string; text?: string; within?: PropertyPath };
  return kind === 'question' ? (b.text ?? '') : b.name === undefined ? '' : refText(refOfProperty({ ...b, name: b.name }));
};

export interface PlannedProperty {
  readonly id: Id;
  readonly property: Property;
  readonly required: boolean;
  /** The shared set that it came with, if any. */
  readonly setId?: Id;
}

/** The properties of an event: its own first, then those of its shared sets; the event's own word on `required` wins. */
export const propertiesOf = (plan: Plan, event: PlanEvent): PlannedProperty[] => {
  const seen = new Set<Id>();
  const out: PlannedProperty[] = [];
  const add = (p: EventProperty, setId?: Id) => {
    const property = plan.property[p.propertyId];
    if (!property || seen.has(p.propertyId)) return;
    seen.add(p.propertyId);
    const narrowed = p.allowed && p.allowed.length > 0 ? { ...property, allowed: p.allowed } : property;
    out.push({ id: p.propertyId, property: narrowed, required: p.required, ...(setId === undefined ? {} : { setId }) });
  };
  for (const p of event.properties) add(p);
  for (const setId of event.sharedSets) for (const p of plan.sharedSet[setId]?.properties ?? []) add(p, setId);
  return out;
};

/** The planned property at a path. */
export const plannedAt = (planned: readonly PlannedProperty[], ref: PropertyRef): PlannedProperty | undefined =>
  planned.find((p) => sameRef(refOfProperty(p.property), ref));

/** Whether an event is still sent by anything: not retired as a whole, nor on each of its sources. */
export const isLive = (e: PlanEvent): boolean => !e.retired && (e.sources.length === 0 || e.sources.some((s) => s.build !== 'retired'));
