/** What a new workspace and a new entity start with. Values that users may change; none of them is a secret. */
import type { BodyOf, Kind, Settings } from './plan';

export const DEFAULT_SETTINGS: Settings = {
  name: 'New workspace',
  timeZone: 'Europe/London',
  weekStartsOn: 1,
  currency: 'EUR',
  settlingHours: 48,
  naming: {
    eventCase: 'Title Case',
    propertyCase: 'snake_case',
    userPropertyCase: 'snake_case',
    wordOrder: 'object then action',
    tense: 'past',
    actions: [],
    objects: [],
    vagueNames: ['name', 'type', 'value', 'status', 'id', 'category', 'data', 'info', 'label', 'source'],
    maxLength: 64,
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
  },
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
    thresholds: { clear: 0.98, caution: 0.9 },
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
    conversion: false,
    owner: '',
    notes: '',
    formerNames: [],
  },
  property: {
    name: '',
    description: '',
    type: 'string',
    unit: '',
    allowed: [],
    pattern: '',
    samples: [],
    describes: '',
    personalData: 'none',
    formerNames: [],
  },
  sharedSet: { name: '', description: '', properties: [] },
  userProperty: { name: '', description: '', type: 'string', allowed: [], sources: [], registered: false, formerNames: [] },
  identifierKind: { name: '', description: '', stable: true, personalData: false, identifies: 'person' },
};

/** A blank body of this kind with the given fields laid over it. */
export const blank = <K extends Kind>(kind: K, fields: Partial<BodyOf[K]> = {}): BodyOf[K] => ({ ...BLANK[kind], ...fields });
