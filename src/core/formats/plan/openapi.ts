import { settingsOf, type Plan } from '../../plan/plan';
import { defineFormat } from '../format';
import { exampleMessage, messageSchema, sentEvents } from '../message-schema';

/** The intake as OpenAPI: what a request may hold, by event.
 *  Source: OpenAPI 3.1.0.
 */
export const openApiOfIntake = (plan: Plan, number: number): Record<string, unknown> => {
  const events = sentEvents(plan);
  const message =
    events.length > 0
      ? { oneOf: events.map(([id]) => ({ $ref: `#/components/schemas/${keyOf(id)}` })) }
      : { type: 'object', description: 'The plan has no event yet.' };
  const problem = {
    description: 'The body says what is wrong and how to fix it.',
    content: { 'application/problem+json': { schema: { type: 'object' } } },
  };
  return {
    openapi: '3.1.0',
    info: { title: `${settingsOf(plan).name}: intake`, version: number > 0 ? String(number) : 'draft' },
    servers: [{ url: 'https://{host}', variables: { host: { default: 'localhost', description: 'Where Signal Post answers.' } } }],
    security: [{ writeKey: [] }],
    paths: {
      '/intake': {
        post: {
          operationId: 'sendMessages',
          summary: 'Send messages of the planned events',
          requestBody: {
            required: true,
            content: {
              'application/json': {
                schema: { oneOf: [message, { type: 'array', items: message, maxItems: 10_000 }] },
                examples: Object.fromEntries(events.map(([id, e]) => [keyOf(id), { summary: e.name, value: exampleMessage(plan, e) }])),
              },
            },
          },
          responses: {
            '200': { description: 'One answer for each message: accepted, accepted with findings, duplicate or rejected.' },
            '401': problem,
            '413': problem,
            '422': problem,
            '429': { ...problem, headers: { 'Retry-After': { schema: { type: 'integer' }, description: 'Seconds to wait.' } } },
            '503': { ...problem, headers: { 'Retry-After': { schema: { type: 'integer' }, description: 'Seconds to wait.' } } },
          },
        },
      },
    },
    components: {
      securitySchemes: { writeKey: { type: 'http', scheme: 'bearer', description: 'A write key of a source.' } },
      schemas: Object.fromEntries(events.map(([id, e]) => [keyOf(id), messageSchema(plan, e)])),
    },
  };
};

/** Source: OpenAPI 3.1.0, "Components Object": letters, digits, `.`, `-` and `_`. What is another character is written as its number. */
const keyOf = (id: string): string => id.replaceAll(/[^A-Za-z0-9.-]/g, (c) => `_${c.codePointAt(0)!.toString(16)}_`);

export const openapi = defineFormat({
  id: 'openapi',
  title: 'OpenAPI 3.1 of the intake',
  note: 'What a request to the intake may hold, by event.',
  file: { ending: 'openapi.json', type: 'application/vnd.oai.openapi+json' },
  write: ({ plan, number }) => `${JSON.stringify(openApiOfIntake(plan, number), null, 2)}\n`,
});
