/** The JSON Schema of each event, judged by Ajv 8 (draft 2020-12), against our own checker on the same seeded messages.
 *  Source: JSON Schema Core and Validation 2020-12; reference validator: package ajv 8.20.0, option `ownProperties`.
 *  Not compared: a day that does not exist in a timestamp (a pattern cannot tell; the format is not asserted here).
 */
import { Ajv2020 } from 'ajv/dist/2020.js';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { compileChecker } from '../../src/core/arrival/compile';
import { eventSchema } from '../../src/core/formats/json-schema';
import { schemaCarries } from '../schema-codes';
import { applyEdits } from '../../src/core/plan/edit';
import { entries, PROPERTY_TYPES, type Property } from '../../src/core/plan/plan';
import { isNumeric } from '../../src/core/plan/property-type';
import { publishedEdits } from '../../src/demo/plan';
import { event, planWith, property } from '../plans';
import { DEFAULT_SETTINGS } from '../../src/core/plan/defaults';
import { emptyPlan } from '../../src/core/plan/plan';

const ajv = () => new Ajv2020({ allErrors: true, ownProperties: true, strict: false, validateFormats: false });

const text = fc.constantFrom(
  '',
  'Quayside',
  'drills',
  'T-1',
  'null',
  'undefined',
  '{{tool_id}}',
  '${x}',
  'nullify',
  'a {{b}}',
  '12',
  '1e3',
  '2026-03-01T09:30:00Z',
  '2026-03-01T09:30:00+01:00',
  '2026-03-01',
  'x'.repeat(300),
);
const value: fc.Arbitrary<unknown> = fc.oneof(
  text,
  fc.integer({ min: -10, max: 60_000 }),
  fc.double({ noNaN: true, noDefaultInfinity: true }),
  fc.boolean(),
  fc.constant(null),
  fc.array(fc.oneof(text, fc.integer(), fc.boolean()), { maxLength: 3 }),
  fc.constant({}),
);

test('all events of the demo plan: the same verdict', () => {
  const applied = applyEdits(
    emptyPlan(DEFAULT_SETTINGS),
    publishedEdits.filter((e) => e.kind !== 'settings'),
  );
  if (!applied.ok) throw new Error('the demo plan does not apply');
  const { plan } = applied;
  const checker = compileChecker(plan);
  let refused = 0;
  let passed = 0;
  for (const [, e] of entries(plan, 'event')) {
    const schema = eventSchema(plan, e);
    const validate = ajv().compile(schema);
    const names = Object.keys(schema['properties'] as object);
    const sound = fc.record(
      Object.fromEntries(names.map((n) => [n, fc.constantFrom(...sampleValues(Object.values(plan.property).find((p) => p.name === n)!))])),
    );
    const properties = fc
      .tuple(sound, fc.dictionary(fc.constantFrom(...names, 'more', '__proto__'), value, { maxKeys: 2 }))
      .map(([s, d]) => ({ ...s, ...d }));
    fc.assert(
      fc.property(properties, fc.subarray(names), (p, dropped) => {
        const message = Object.fromEntries(Object.entries(p).filter(([k]) => !dropped.includes(k) || dropped.length > 1));
        const ours = !checker.check({ kind: 'event', name: e.name, ids: {}, properties: message }).some((f) => schemaCarries(f.code));
        expect({ message, ok: ours }).toEqual({ message, ok: validate(message) });
        if (ours) passed++;
        else refused++;
      }),
      { seed: 7, numRuns: 250 },
    );
  }
  // Both kinds of messages were really among them.
  expect(Math.min(passed, refused)).toBeGreaterThan(300);
});

const sampleValues = (p: Property): unknown[] => p.samples.map((s) => (isNumeric(p.type) ? Number(s) : s));

test('every type, with lists and ranges: the same verdict', () => {
  const definition = fc.record({
    type: fc.constantFrom(...PROPERTY_TYPES),
    allowed: fc.constantFrom<string[][]>([], [], ['Quayside', 'drills'], ['12', '1000']),
    range: fc.constantFrom<{ min?: number; max?: number }[]>({}, { min: 0 }, { max: 100 }, { min: 1, max: 28 }),
  });
  fc.assert(
    fc.property(definition, fc.array(value, { minLength: 1, maxLength: 20 }), fc.boolean(), (d, values, required) => {
      const scalarNumeric = d.type === 'number' || d.type === 'integer';
      const allowed = /boolean|timestamp|object/.test(d.type) || (isNumeric(d.type) && d.allowed[0] === 'Quayside') ? [] : d.allowed;
      const plan = planWith([
        property('p', { type: d.type, allowed, ...(scalarNumeric ? d.range : {}) }),
        event('e', { name: 'A', properties: [{ propertyId: 'p', required }] }),
      ]);
      const checker = compileChecker(plan);
      const validate = ajv().compile(eventSchema(plan, plan.event['e']!));
      for (const v of [...values, undefined]) {
        const message = v === undefined ? {} : { p: v };
        expect({
          d,
          allowed,
          v,
          ok: !checker.check({ kind: 'event', name: 'A', ids: {}, properties: message }).some((f) => schemaCarries(f.code)),
        }).toEqual({
          d,
          allowed,
          v,
          ok: validate(message),
        });
      }
    }),
    { seed: 8, numRuns: 500 },
  );
});

test('each schema is itself valid against the published meta-schema', () => {
  const plan = planWith([
    ...PROPERTY_TYPES.map((type, i) => property(`p${i}`, { type, samples: ['1', '2'] })),
    event('e', { name: 'A', properties: PROPERTY_TYPES.map((_, i) => ({ propertyId: `p${i}`, required: true })) }),
  ]);
  const check = new Ajv2020({ strict: false });
  expect(check.validateSchema(eventSchema(plan, plan.event['e']!)), JSON.stringify(check.errors)).toBe(true);
});
