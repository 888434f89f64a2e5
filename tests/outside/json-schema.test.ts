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
import { event, planWith, property } from '../build/plan';
import { DEFAULT_SETTINGS } from '../../src/core/plan/defaults';
import { emptyPlan } from '../../src/core/plan/plan';
import { draws } from '../build/draws';

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
      { seed: 7, numRuns: draws(60, 250) },
    );
  }
  // Both kinds of messages were really among them.
  expect(Math.min(passed, refused)).toBeGreaterThan(draws(70, 300));
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
    { seed: 8, numRuns: draws(120, 500) },
  );
});

test('properties in objects, planned at any depth, with and without the objects around them: the same verdict', () => {
  const PLACES = [[], ['o'], ['o', 'i'], ['s']] as const;
  const planned = fc.uniqueArray(
    fc.record({
      name: fc.constantFrom('o', 'i', 's', 'n'),
      within: fc.constantFrom(...PLACES),
      type: fc.constantFrom('object', 'object', 'string', 'integer', 'list of number' as const),
      required: fc.boolean(),
    }),
    { selector: (p) => JSON.stringify([p.within, p.name]), minLength: 1, maxLength: 7 },
  );
  const leaf = fc.oneof(text, fc.integer(), fc.constant(null), fc.array(fc.integer(), { maxLength: 2 }));
  const object = (depth: number): fc.Arbitrary<Record<string, unknown>> =>
    fc.dictionary(
      fc.constantFrom('o', 'i', 's', 'n', 'more'),
      depth === 0 ? leaf : fc.oneof(leaf, { weight: 3, arbitrary: object(depth - 1) }),
      {
        maxKeys: 4,
      },
    );
  const depths = new Map<number, number>();
  fc.assert(
    fc.property(planned, fc.array(object(3), { minLength: 1, maxLength: 10 }), (properties, messages) => {
      const plan = planWith([
        ...properties.map(({ name, within, type }, k) => property(`p${k}`, { name, type, within })),
        event('e', { name: 'A', properties: properties.map(({ required }, k) => ({ propertyId: `p${k}`, required })) }),
      ]);
      const checker = compileChecker(plan);
      const schema = eventSchema(plan, plan.event['e']!);
      const check = ajv();
      expect(check.validateSchema(schema), JSON.stringify(check.errors)).toBe(true);
      const validate = check.compile(schema);
      for (const message of messages) {
        const found = checker.check({ kind: 'event', name: 'A', ids: {}, properties: message }).filter((f) => schemaCarries(f.code));
        expect({ properties, message, ok: found.length === 0 }).toEqual({ properties, message, ok: validate(message) });
        // Each finding says where, as the reference does.
        const theirs = new Set(
          (validate.errors ?? []).map((e) =>
            JSON.stringify([
              'properties',
              ...e.instancePath.split('/').slice(1),
              ...(e.keyword === 'required' ? [(e.params as { missingProperty: string }).missingProperty] : []),
            ]),
          ),
        );
        for (const f of found) {
          expect([...theirs].some((t) => t.startsWith(JSON.stringify(f.path).slice(0, -1)))).toBe(true);
          depths.set(f.path.length, (depths.get(f.path.length) ?? 0) + 1);
        }
      }
    }),
    { seed: 11, numRuns: draws(150, 600) },
  );
  // Findings were really made at every depth.
  for (const depth of [2, 3, 4]) expect(depths.get(depth)).toBeGreaterThan(draws(7, 30));
});

test('each schema is itself valid against the published meta-schema', () => {
  const plan = planWith([
    ...PROPERTY_TYPES.map((type, i) => property(`p${i}`, { type, samples: ['1', '2'] })),
    event('e', { name: 'A', properties: PROPERTY_TYPES.map((_, i) => ({ propertyId: `p${i}`, required: true })) }),
  ]);
  const check = new Ajv2020({ strict: false });
  expect(check.validateSchema(eventSchema(plan, plan.event['e']!)), JSON.stringify(check.errors)).toBe(true);
});
