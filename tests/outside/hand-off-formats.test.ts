/** What engineers are given, against the published schema of each format.
 *  Sources: AsyncAPI 3.0.0 as `@asyncapi/parser` 3.6 and `@asyncapi/specs` 6.11 have it; OpenAPI 3.1 as `@seriousme/openapi-schema-validator` 2.11 has it;
 *  JSON Schema 2020-12 and draft 7 as `ajv` 8 has them; CloudEvents 1.0 as `cloudevents` 10 has it.
 *  The parser of AsyncAPI does not hold examples against their payload: Ajv does that here.
 */
import { Validator } from '@seriousme/openapi-schema-validator';
import Ajv from 'ajv';
import Ajv2020 from 'ajv/dist/2020';
import addFormats from 'ajv-formats';
import { Parser } from '@asyncapi/parser';
import specs from '@asyncapi/specs';
import { HTTP, type CloudEvent } from 'cloudevents';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cloudEventTypes, exampleCloudEvent } from '../../src/core/formats/plan/cloudevents';
import { asyncApiOf } from '../../src/core/formats/plan/asyncapi';
import { openApiOfIntake } from '../../src/core/formats/plan/openapi';
import { schemasOfEvents } from '../../src/core/formats/plan/event-schemas';
import { exampleMessage, messageSchema, sentEvents } from '../../src/core/formats/message-schema';
import { compileChecker } from '../../src/core/arrival/compile';
import { readMessage } from '../../src/core/arrival/message';
import { messageOfCloudEvent } from '../../src/core/formats/cloudevents';
import { emptyPlan, type Plan } from '../../src/core/plan/plan';
import { DEFAULT_SETTINGS } from '../../src/core/plan/defaults';
import { plan as anyPlan } from '../build/arbitrary-plan';
import { demoPlan } from '../build/demo-plan';
import { draws } from '../build/draws';

const demo = demoPlan();
const clone = <T>(v: T): T => JSON.parse(JSON.stringify(v)) as T;
const plans: readonly (readonly [string, Plan])[] = [
  ['the demo’s plan', demo],
  ['an empty plan', emptyPlan(DEFAULT_SETTINGS)],
  ...fc.sample(anyPlan, { numRuns: draws(2, 8), seed: 11 }).map((p, i) => [`plan ${i} at random`, p] as const),
];

const ajv = (): Ajv2020 => {
  const made = new Ajv2020({ strict: false, allErrors: true, ownProperties: true });
  addFormats(made);
  return made;
};

describe.each(plans)('%s', (_, plan) => {
  const document = clone(asyncApiOf(plan, 3, 'hash'));

  it('as AsyncAPI is valid by its own parser', async () => {
    const { diagnostics } = await new Parser().parse(JSON.stringify(document));
    expect(diagnostics.filter((d) => d.severity === 0).map((d) => `${d.path.join('.')}: ${d.message}`)).toEqual([]);
  });

  it('as AsyncAPI is valid by the published schema', () => {
    const schemas = specs.schemasWithoutId as unknown as Record<string, object>;
    const valid = new Ajv({ strict: false, allErrors: true, logger: false });
    addFormats(valid);
    const check = valid.compile(schemas['3.0.0']!);
    expect([check(document), check.errors]).toEqual([true, null]);
  });

  it('as OpenAPI is valid by the published schema', async () => {
    expect(await new Validator().validate(clone(openApiOfIntake(plan, 3)))).toEqual({ valid: true });
  });

  it('as JSON Schema compiles, event by event and all together', () => {
    const all = clone(schemasOfEvents(plan)) as { $defs: Record<string, object> };
    expect(ajv().validateSchema(all)).toBe(true);
    for (const schema of Object.values(all.$defs)) expect(() => ajv().compile(schema)).not.toThrow();
    expect(ajv().validateSchema(clone(cloudEventTypes(plan)))).toBe(true);
  });
});

describe('examples of the demo’s plan', () => {
  it.each(sentEvents(demo).map(([, e]) => [e.name, e] as const))(
    '%s: fits its payload in both drafts, is read by the intake, and has no finding',
    (_, e) => {
      const example = exampleMessage(demo, e);
      for (const of of [ajv(), addedFormats(new Ajv({ strict: false, allErrors: true }))]) {
        const check = of.compile(clone(messageSchema(demo, e)));
        expect([check(example), check.errors]).toEqual([true, null]);
        // A schema that takes everything would pass too.
        expect(check({ ...example, name: `${e.name}!` })).toBe(false);
      }
      const read = readMessage(example);
      expect(
        read.ok &&
          compileChecker(demo)
            .check(read.message)
            .map((f) => f.code),
      ).toEqual(sampleIdsFound(e.name));
    },
  );

  it.each(sentEvents(demo).map(([, e]) => [e.name, e] as const))(
    '%s as a CloudEvent is one by the reference package, and fits its type',
    (_, e) => {
      const example = exampleCloudEvent(demo, e);
      const event = HTTP.toEvent({
        headers: { 'content-type': 'application/cloudevents+json' },
        body: JSON.stringify(example),
      }) as CloudEvent<unknown>;
      expect([event.validate(), event.type]).toEqual([true, e.name]);
      const check = ajv().compile(clone(cloudEventTypes(demo)));
      expect([check(example), check.errors]).toEqual([true, null]);
      expect(check({ ...example, type: 'Nothing' })).toBe(false);
      expect(messageOfCloudEvent(example).ok).toBe(true);
    },
  );
});

const addedFormats = (a: Ajv): Ajv => {
  addFormats(a);
  return a;
};

/** The samples of identifiers never identify, which is a finding of its own. */
const sampleIdsFound = (_: string): unknown =>
  expect.not.arrayContaining(['wrong-type', 'property-missing', 'value-not-allowed', 'unplanned-property', 'unknown-event']);
