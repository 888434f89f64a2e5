/** What a new workspace and a new entity start with. Values that users may change; none of them is a secret. */
import { EVERYTHING } from '../definitions/definition';
import type { BodyOf, Kind, Plan, Settings } from './plan';
import { KINDS } from './plan';

export const DEFAULT_SETTINGS: Settings = {
  name: 'New workspace',
  timeZone: 'Europe/London',
  weekStartsOn: 1,
  currency: 'EUR',
  // Common practice; no source.
  tooEarlyHours: 24,
  settlingHours: 48,
  escalationHours: 72,
  sessionGapMinutes: 30,
  clockToleranceSeconds: 2,
  clearFromPercent: 98,
  cautionFromPercent: 90,
  historyYears: 10,
  provenance: {},
  // Common practice of the places where such data goes; no source.
  limits: { events: 500, userProperties: 25, conversions: 30 },
  naming: {
    eventCase: 'Title Case',
    propertyCase: 'snake_case',
    userPropertyCase: 'snake_case',
    wordOrder: 'object then action',
    tense: 'past',
    valueCase: 'any',
    actions: [],
    objects: [],
    synonyms: [],
    vagueNames: ['name', 'type', 'value', 'status', 'id', 'category', 'data', 'info', 'label', 'source'],
    reservedNames: ['id', 'kind', 'time', 'ids', 'properties', 'user_properties', 'release', 'page', 'timestamp', 'event'],
    maxLength: 64,
    plainCharacters: true,
  },
  identity: {
    links: [
      ['anonymous', 'user'],
      ['device', 'user'],
      ['anonymous', 'device'],
    ],
    linking: true,
    maxUserIds: 1,
    placeholderGuard: true,
    sharedDeviceUsers: 3,
    blocked: [],
    cuts: [],
    signOutEvents: [],
    pricePerThousand: 0,
  },
  identityCases: [],
  rules: {},
};

const BLANK: { [K in Kind]: BodyOf[K] } = {
  settings: DEFAULT_SETTINGS,
  source: {
    name: '',
    kind: 'web',
    environment: 'production',
    mark: '',
    owner: '',
    expectedLagMs: 60_000,
    automaticProperties: [],
    idKinds: { beforeSignIn: ['anonymous'], afterSignIn: ['anonymous', 'user'] },
  },
  question: {
    text: '',
    decision: '',
    definition: '',
    kind: 'question',
    owner: '',
    priority: 2,
    order: 0,
    formula: null,
  },
  event: {
    name: '',
    object: '',
    action: '',
    description: '',
    trigger: '',
    triggerKind: 'completed',
    flow: '',
    order: 0,
    sources: [],
    properties: [],
    sharedSets: [],
    scope: '',
    oncePer: '',
    conversion: false,
    owner: '',
    notes: '',
    keepReason: '',
    retired: false,
    formerNames: [],
  },
  property: {
    name: '',
    description: '',
    type: 'string',
    unit: '',
    allowed: [],
    pattern: '',
    format: '',
    samples: [],
    describes: '',
    personalData: 'none',
    keepReason: '',
    retired: false,
    formerNames: [],
  },
  sharedSet: { name: '', description: '', properties: [] },
  userProperty: {
    name: '',
    description: '',
    type: 'string',
    unit: '',
    allowed: [],
    samples: [],
    buckets: [],
    write: 'set',
    personalData: 'none',
    sources: [],
    registered: false,
    temporary: false,
    retired: false,
    formerNames: [],
  },
  identifierKind: {
    name: '',
    description: '',
    pattern: '',
    sample: '',
    stable: true,
    personalData: false,
    identifies: 'person',
    scope: 'all sources',
  },
  definition: {
    name: '',
    source: { of: 'events', names: [] },
    where: EVERYTHING,
    changes: [],
    description: '',
    owner: '',
    conversion: false,
    keepReason: '',
    retired: false,
  },
  trial: { name: '', about: '', flow: '', steps: [], owner: '', retired: false },
};

/** A blank body of this kind with the given fields put over it. */
export const blank = <K extends Kind>(kind: K, fields: Partial<BodyOf[K]> = {}): BodyOf[K] => ({ ...BLANK[kind], ...fields });

const laidOver = (base: object, given: object): object =>
  Object.fromEntries(
    [...new Set([...Object.keys(base), ...Object.keys(given)])].map((k) => {
      const b = (base as Record<string, unknown>)[k];
      const g = (given as Record<string, unknown>)[k];
      return [k, g === undefined ? b : g];
    }),
  );

/** Parameters that had another name when they were stored. */
const FORMER_PARAMETERS: Readonly<Record<string, string>> = { least: 'min' };

const withPresentNames = (rules: Settings['rules']): Settings['rules'] =>
  Object.fromEntries(
    Object.entries(rules).map(([id, rule]) => [
      id,
      rule.parameters
        ? {
            ...rule,
            parameters: Object.fromEntries(Object.entries(rule.parameters).map(([name, n]) => [FORMER_PARAMETERS[name] ?? name, n])),
          }
        : rule,
    ]),
  );

/** A stored body with fields that came into being after it was stored filled in. */
export const completed = <K extends Kind>(kind: K, body: BodyOf[K]): BodyOf[K] => {
  if (kind !== 'settings') return laidOver(BLANK[kind], body) as BodyOf[K];
  const s = body as Settings;
  return {
    ...laidOver(DEFAULT_SETTINGS, { ...s, rules: withPresentNames(s.rules ?? {}) }),
    naming: laidOver(DEFAULT_SETTINGS.naming, s.naming),
    identity: laidOver(DEFAULT_SETTINGS.identity, s.identity),
    limits: laidOver(DEFAULT_SETTINGS.limits, s.limits ?? {}),
  } as BodyOf[K];
};

/** A whole stored plan, completed. */
export const completedPlan = (plan: Plan): Plan =>
  Object.fromEntries(
    KINDS.map((kind) => [
      kind,
      Object.fromEntries(Object.entries(plan[kind] ?? {}).map(([id, body]) => [id, completed(kind, body as BodyOf[typeof kind])])),
    ]),
  ) as unknown as Plan;
