/** Made-up plans for properties: small, with every kind of entity, and with the names and texts that break things. */
import fc from 'fast-check';
import type { Parameters } from '../../src/core/arrival/check';
import { allChecks } from '../../src/core/arrival/words';
import { SEVERITIES, type RuleSettings } from '../../src/core/findings/severity';
import { blank, DEFAULT_SETTINGS } from '../../src/core/plan/defaults';
import {
  BUILD_STATES,
  emptyPlan,
  FORMATS,
  PERSONAL_DATA_CLASSES,
  PROPERTY_TYPES,
  TRIGGER_KINDS,
  type Plan,
  type Settings,
} from '../../src/core/plan/plan';
import { UNITS } from '../../src/core/plan/unit';

const AWKWARD = [
  '=1+1',
  '+x',
  '-a',
  '@sum',
  'a, b',
  'say "so"',
  'größe',
  'gro\u0308sse',
  '🔨',
  'עברית',
  'a|b',
  'a\nb',
  "'",
  ' x ',
  'line\r\nline',
];
/** A text as it may stand in a description. */
export const text = fc.oneof(fc.string({ maxLength: 12 }), fc.constantFrom(...AWKWARD)).map((s) => s.replaceAll('\0', ''));
// eslint-disable-next-line no-control-regex
export const name = text.map((s) => s.replace(/[\u0000-\u001f\u007f]/g, '').trim()).filter((s) => s !== '');
const names = (n: number) => fc.uniqueArray(name, { minLength: 1, maxLength: n });
/** What stands on a list: never empty, no blanks at the ends, so that it can be told from none. */
const item = text.map((s) => s.trim()).filter((s) => s !== '');
const items = fc.uniqueArray(item, { maxLength: 3 });

/** Numbers of a check, each within its bounds. */
const parametersOf = (parameters: Parameters): fc.Arbitrary<Record<string, number>> =>
  fc.record(
    Object.fromEntries(
      Object.entries(parameters).map(([key, { min, max, whole }]) => [
        key,
        whole ? fc.integer({ min: min, max: max }) : fc.double({ min: min, max: max, noNaN: true }).map((n) => (n === 0 ? 0 : n)),
      ]),
    ),
    { requiredKeys: [] },
  ) as fc.Arbitrary<Record<string, number>>;
/** What a workspace changed about checks: as it is kept, without what says the same as the check itself. */
const checkSettings: fc.Arbitrary<RuleSettings> = fc
  .uniqueArray(fc.constantFrom(...allChecks), { maxLength: 4, selector: (c) => c.id })
  .chain((checks) =>
    fc.tuple(
      ...checks.map((c) =>
        fc.record({
          check: fc.constant(c),
          severity: fc.constantFrom(...SEVERITIES),
          off: fc.boolean(),
          parameters: parametersOf(c.parameters ?? {}),
        }),
      ),
    ),
  )
  .map((all) =>
    Object.fromEntries(
      all.flatMap(({ check, severity, off, parameters }) => {
        const own = Object.entries(parameters).filter(([key, n]) => n !== check.parameters![key]!.value);
        const says = {
          ...(severity === check.severity ? {} : { severity }),
          ...(off ? { off: true } : {}),
          ...(own.length > 0 ? { parameters: Object.fromEntries(own) } : {}),
        };
        return Object.keys(says).length > 0 ? [[check.id, says] as const] : [];
      }),
    ),
  );
const hours = fc.integer({ min: 0, max: 400 });
const settings: fc.Arbitrary<Settings> = fc
  .record({
    name: fc.constantFrom('Shed', 'größe'),
    timeZone: fc.constantFrom('UTC', 'Asia/Kathmandu', 'America/New_York'),
    weekStartsOn: fc.integer({ min: 1, max: 7 }),
    currency: fc.constantFrom('EUR', 'JPY'),
    tooEarlyHours: hours,
    settlingHours: hours,
    escalationHours: hours,
    sessionGapMinutes: fc.integer({ min: 1, max: 1440 }),
    clockToleranceSeconds: fc.integer({ min: 0, max: 3600 }),
    provenance: fc.constantFrom(
      {},
      { settlingHours: { source: 'a handbook', asOf: '2026-02-28' } },
      { name: { source: 'somebody', asOf: '' } },
    ),
    rules: checkSettings,
  })
  .map((s) => ({ ...DEFAULT_SETTINGS, ...s }));

export const plan: fc.Arbitrary<Plan> = fc
  .record({
    events: names(4),
    properties: names(5),
    own: settings,
    sources: fc.uniqueArray(fc.constantFrom('Web', 'Phone app', 'Desk'), { minLength: 1, maxLength: 3 }),
  })
  .chain(({ events, properties, sources, own }) =>
    fc.record({
      property: fc.tuple(
        ...properties.map((n) =>
          fc.record({
            type: fc.constantFrom(...PROPERTY_TYPES),
            unit: fc.constantFrom('', ...UNITS.keys()),
            description: text,
            allowed: items,
            samples: items,
            min: fc.option(fc.integer({ min: -9, max: 0 }), { nil: undefined }),
            max: fc.option(fc.double({ min: 1, max: 9, noNaN: true }), { nil: undefined }),
            format: fc.constantFrom('' as const, ...FORMATS),
            personalData: fc.constantFrom(...PERSONAL_DATA_CLASSES),
            retired: fc.boolean(),
            formerNames: fc.uniqueArray(name, { maxLength: 2 }),
            name: fc.constant(n),
            within: fc.constantFrom(undefined, undefined, ['o'], ['o', 'größe, "x"'], [' a.b']),
          }),
        ),
      ),
      event: fc.tuple(
        ...events.map((n, i) =>
          fc.record({
            name: fc.constant(n),
            order: fc.constant(i + 1),
            trigger: text,
            description: text,
            triggerKind: fc.constantFrom(...TRIGGER_KINDS),
            flow: name,
            owner: name,
            conversion: fc.boolean(),
            sources: fc.uniqueArray(
              fc.record({
                sourceId: fc.constantFrom(...sources.map((_, k) => `s${k}`)),
                required: fc.boolean(),
                build: fc.constantFrom(...BUILD_STATES.filter((b) => b !== 'seen' && b !== 'verified')),
              }),
              { selector: (s) => s.sourceId, maxLength: 3 },
            ),
            properties: fc.uniqueArray(
              fc.record({ propertyId: fc.constantFrom(...properties.map((_, k) => `p${k}`)), required: fc.boolean() }),
              { selector: (p) => p.propertyId, maxLength: 4 },
            ),
          }),
        ),
      ),
      source: fc.constant(sources),
      own: fc.constant(own),
    }),
  )
  .map(({ event, property, source, own }): Plan => {
    const defined = <T extends object>(o: T): T => Object.fromEntries(Object.entries(o).filter(([, v]) => v !== undefined)) as T;
    return {
      ...emptyPlan(own),
      source: Object.fromEntries(source.map((n, i) => [`s${i}`, blank('source', { name: n, mark: n[0]! })])),
      property: Object.fromEntries(property.map((p, i) => [`p${i}`, { ...blank('property'), ...defined(p) } as Plan['property'][string]])),
      event: Object.fromEntries(event.map((e, i) => [`e${i}`, blank('event', e)])),
    };
  });
