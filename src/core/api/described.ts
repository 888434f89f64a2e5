/** A contract as data: its parameters, its body and its answer as JSON Schema 2020-12, for the document and the page. */
import { z } from 'zod';
import type { Endpoint } from './endpoint';

export type JsonSchema = Readonly<Record<string, unknown>>;

const schemaOf = (schema: z.ZodType, io: 'input' | 'output'): JsonSchema => {
  const { $schema: _, ...rest } = z.toJSONSchema(schema, { io, unrepresentable: 'any' });
  return rest;
};

const LENS: Readonly<Record<Endpoint['lens'][number], string>> = {
  traffic: 'Which messages count, as the address of a page has it; production without tests when left out.',
  rules: '`draft`: persons by the identity rules of the draft instead of those in force.',
};

export interface Parameter {
  readonly name: string;
  readonly place: 'path' | 'query';
  readonly required: boolean;
  /** Empty for none. */
  readonly description: string;
  readonly schema: JsonSchema;
}

export interface Described {
  readonly parameters: readonly Parameter[];
  /** `undefined` where none is asked for. */
  readonly body: JsonSchema | undefined;
  readonly answer: JsonSchema;
}

export const described = (e: Endpoint): Described => {
  const query = z.toJSONSchema(e.query, { io: 'input', unrepresentable: 'any' });
  const named = Object.entries(query.properties ?? {}).map(([name, given]): Parameter => {
    const { description = '', ...schema } = typeof given === 'object' ? (given as JsonSchema & { description?: string }) : {};
    const isInPath = e.path.includes(`{${name}}`);
    return {
      name,
      place: isInPath ? 'path' : 'query',
      required: isInPath || (query.required?.includes(name) ?? false),
      description,
      schema,
    };
  });
  const lens = e.lens.map((name): Parameter => ({
    name,
    place: 'query',
    required: false,
    description: LENS[name],
    schema: { type: 'string' },
  }));
  const body = schemaOf(e.body, 'input');
  const isNothing = body['type'] === 'object' && Object.keys(body['properties'] ?? {}).length === 0;
  return {
    parameters: [...named, ...lens],
    body: e.method === 'POST' && !isNothing ? body : undefined,
    answer: schemaOf(e.answer, 'output'),
  };
};
