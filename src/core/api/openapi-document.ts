/** The endpoints as an OpenAPI document.
 *  Source: OpenAPI Specification 3.1.1; its schemas are JSON Schema 2020-12.
 */
import { described } from './described';
import { AGE_MEANS, COMMON_ERRORS, type Endpoint } from './endpoint';
import { ENDPOINTS } from './index';

type Json = Record<string, unknown>;

const PROBLEM = { $ref: '#/components/schemas/Problem' };

const operationOf = (e: Endpoint): Json => {
  const { parameters, body, answer: whole } = described(e);
  const { description = e.title, ...answer } = whole;
  const content = e.content === 'file' ? 'application/octet-stream' : e.content;
  return {
    operationId: `${e.method} ${e.path}`.replace(/[^A-Za-z]+(\w?)/g, (_, c: string) => c.toUpperCase()),
    summary: e.title,
    tags: [e.answeredBy],
    'x-role': e.role,
    parameters: parameters.map(({ name, place, required, description: about, schema }) => ({
      name,
      in: place,
      required,
      ...(about === '' ? {} : { description: about }),
      schema,
    })),
    ...(e.role === 'write key' ? { security: [{ writeKey: [] }] } : {}),
    ...(e.role === 'read token' ? { security: [{ readToken: [] }, { readTokenInAddress: [] }] } : {}),
    ...(body ? { requestBody: { required: true, content: { 'application/json': { schema: body } } } } : {}),
    responses: {
      200: {
        description,
        ...(e.answeredBy === 'analysis' ? { headers: { Age: { description: AGE_MEANS, schema: { type: 'integer', minimum: 0 } } } } : {}),
        content: { [content]: { schema: answer } },
      },
      ...Object.fromEntries(
        Object.entries({ ...COMMON_ERRORS, ...e.errors }).map(([status, when]) => [
          status,
          { description: when, content: { 'application/json': { schema: PROBLEM } } },
        ]),
      ),
    },
  };
};

/** The document; made anew at each call, the same each time. */
export const openApiDocument = (): Json => {
  const paths: Record<string, Json> = {};
  for (const e of ENDPOINTS) (paths[e.path] ??= {})[e.method.toLowerCase()] = operationOf(e);
  return {
    openapi: '3.1.1',
    info: {
      title: 'Signal Post',
      version: '1',
      description: 'Every endpoint that the interface uses, and the intake. Instants are UTC epoch ms, shares 0 to 1.',
    },
    servers: [{ url: '/' }],
    paths,
    components: {
      schemas: {
        Problem: {
          type: 'object',
          required: ['error'],
          properties: {
            error: { type: 'string', description: 'What happened, in two or three words.' },
            detail: { type: 'string', description: 'What is wrong, where, and what to do next.' },
          },
        },
      },
      securitySchemes: {
        writeKey: { type: 'http', scheme: 'bearer', description: 'A write key of a source.' },
        readToken: { type: 'http', scheme: 'bearer', description: 'A token that reads the answers and nothing else.' },
        readTokenInAddress: { type: 'apiKey', in: 'query', name: 'token', description: 'The same, where no header can be sent.' },
      },
    },
  };
};
