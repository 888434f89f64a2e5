import { entries, settingsOf, type Plan, type PlanEvent } from '../../plan/plan';
import { defineFormat } from '../format';
import { eventSchema } from '../json-schema';
import { sentEvents } from '../message-schema';
import { sampleProperties } from '../ticket';

/** Identifier kinds that the name of an extension can hold. Source: CloudEvents 1.0.2, "Attribute Naming Convention". */
const extensions = (plan: Plan): { readonly kind: string; readonly name: string }[] =>
  entries(plan, 'identifierKind')
    .filter(([, k]) => /^[a-z0-9]{1,18}$/.test(k.name))
    .map(([, k]) => ({ kind: k.name, name: `${k.name}id` }));

/** An event as a CloudEvent in structured mode, out of the samples. */
export const exampleCloudEvent = (plan: Plan, event: PlanEvent): Record<string, unknown> => ({
  specversion: '1.0',
  id: '0195f3c8-6c00-7000-8000-000000000001',
  source: '/samples',
  type: event.name,
  time: '2026-03-01T09:30:00Z',
  datacontenttype: 'application/json',
  data: sampleProperties(plan, event),
});

/** The types of CloudEvents that the plan has: one definition each.
 *  Source: CloudEvents 1.0.2, JSON event format; JSON Schema 2020-12.
 */
export const cloudEventTypes = (plan: Plan): Record<string, unknown> => {
  const events = sentEvents(plan);
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    title: `${settingsOf(plan).name}: types of CloudEvents`,
    ...(events.length > 0 ? { oneOf: events.map((_, i) => ({ $ref: `#/$defs/event${i + 1}` })) } : {}),
    $defs: Object.fromEntries(
      events.map(([, e], i) => {
        const { $schema: _, title, description, ...data } = eventSchema(plan, e) as Record<string, unknown>;
        return [
          `event${i + 1}`,
          {
            title,
            ...(description === undefined ? {} : { description }),
            type: 'object',
            required: ['specversion', 'id', 'source', 'type', 'time', 'data'],
            properties: {
              specversion: { const: '1.0' },
              id: { type: 'string', minLength: 1 },
              source: { type: 'string', minLength: 1, format: 'uri-reference' },
              type: { const: e.name },
              time: { type: 'string', format: 'date-time' },
              datacontenttype: { type: 'string' },
              release: { type: 'string' },
              page: { type: 'string' },
              ...Object.fromEntries(
                extensions(plan).map(({ kind, name }) => [name, { type: 'string', description: `Identifier of kind ${kind}.` }]),
              ),
              data,
            },
            examples: [exampleCloudEvent(plan, e)],
          },
        ];
      }),
    ),
  };
};

export const cloudevents = defineFormat({
  id: 'cloudevents',
  title: 'CloudEvents types',
  note: 'JSON Schema of each event as a CloudEvent 1.0.',
  file: { ending: 'cloudevents.schema.json', type: 'application/schema+json' },
  write: ({ plan }) => `${JSON.stringify(cloudEventTypes(plan), null, 2)}\n`,
});
