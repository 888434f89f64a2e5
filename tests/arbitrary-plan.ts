/** Made-up plans for properties: small, with every kind of entity, and with the names and texts that break things. */
import fc from 'fast-check';
import { blank, DEFAULT_SETTINGS } from '../src/core/plan/defaults';
import { BUILD_STATES, emptyPlan, FORMATS, PERSONAL_DATA_CLASSES, PROPERTY_TYPES, TRIGGER_KINDS, type Plan } from '../src/core/plan/plan';
import { UNITS } from '../src/core/plan/unit';

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

export const plan: fc.Arbitrary<Plan> = fc
  .record({
    events: names(4),
    properties: names(5),
    sources: fc.uniqueArray(fc.constantFrom('Web', 'Phone app', 'Desk'), { minLength: 1, maxLength: 3 }),
  })
  .chain(({ events, properties, sources }) =>
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
    }),
  )
  .map(({ event, property, source }): Plan => {
    const defined = <T extends object>(o: T): T => Object.fromEntries(Object.entries(o).filter(([, v]) => v !== undefined)) as T;
    return {
      ...emptyPlan(DEFAULT_SETTINGS),
      source: Object.fromEntries(source.map((n, i) => [`s${i}`, blank('source', { name: n, mark: n[0]! })])),
      property: Object.fromEntries(property.map((p, i) => [`p${i}`, { ...blank('property'), ...defined(p) } as Plan['property'][string]])),
      event: Object.fromEntries(event.map((e, i) => [`e${i}`, blank('event', e)])),
    };
  });
