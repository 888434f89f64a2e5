/** The description of the endpoints against the published schema of OpenAPI 3.1, and its schemas against JSON Schema 2020-12.
 *  Source: OpenAPI Specification 3.1 and its schema, in `@seriousme/openapi-schema-validator` 2.11; JSON Schema 2020-12 in `ajv` 8.
 */
import { Validator } from '@seriousme/openapi-schema-validator';
import Ajv2020 from 'ajv/dist/2020';
import addFormats from 'ajv-formats';
import { describe, expect, it } from 'vitest';
import { openApiDocument } from '../../src/core/api/openapi-document';
import { ENDPOINTS } from '../../src/core/api/index';

type Json = Record<string, unknown>;
interface Operation {
  readonly operationId: string;
  readonly parameters: readonly { name: string; in: string; schema: Json }[];
  readonly requestBody?: { content: { 'application/json': { schema: Json } } };
}

const document = JSON.parse(JSON.stringify(openApiDocument())) as { paths: Record<string, Record<string, Operation>> } & Json;
const operations = Object.entries(document.paths).flatMap(([path, byMethod]) =>
  Object.entries(byMethod).map(([method, o]) => ({ path, method, o })),
);

describe('the OpenAPI document', () => {
  it('is valid, and an invalid one is found out', async () => {
    const validator = new Validator();
    expect(await validator.validate(structuredClone(document))).toEqual({ valid: true });
    expect(validator.version).toBe('3.1');
    const broken = structuredClone(document);
    broken.paths['/api/findings']!['get'] = { parameters: [{ name: 'x', in: 'nowhere', schema: {} }] } as unknown as Operation;
    expect((await validator.validate(broken)).valid).toBe(false);
  });

  it('describes every endpoint once', () => {
    expect(operations.map(({ path, method }) => `${method.toUpperCase()} ${path}`).sort()).toEqual(
      ENDPOINTS.map((e) => `${e.method} ${e.path}`).sort(),
    );
    expect(new Set(operations.map(({ o }) => o.operationId)).size).toBe(operations.length);
  });

  it('names each part of a path as a parameter', () => {
    for (const { path, o } of operations) {
      const named = [...path.matchAll(/\{(\w+)\}/g)].map((m) => m[1]);
      expect([path, o.parameters.filter((p) => p.in === 'path').map((p) => p.name)]).toEqual([path, named]);
    }
  });

  it('has bodies that Ajv compiles, and that refuse what the server refuses', () => {
    const ajv = addFormats(new Ajv2020({ strict: false }));
    const bodies = operations.flatMap(({ path, o }) =>
      o.requestBody ? [{ path, schema: o.requestBody.content['application/json'].schema }] : [],
    );
    expect(bodies.length).toBeGreaterThan(10);
    const samples: unknown[] = [{}, [], 'x', { note: '' }, { note: 'x' }, { note: 'x'.repeat(3000) }, { key: 'k', open: true }, { id: 1, text: 'x' }, { texts: [] }, { texts: ['{}'] }, { edits: [{}] }, { sourceId: 's', label: 'l' }, { end: 1, hours: 0 }, { end: 1.5, hours: 0 }]; // prettier-ignore
    let refused = 0;
    for (const { path, schema } of bodies) {
      const check = ajv.compile(schema);
      const { body } = ENDPOINTS.find((e) => e.method === 'POST' && e.path === path)!;
      // Zod trims before it counts letters; no sample has blanks around it.
      for (const s of samples) {
        expect([path, s, check(s)]).toEqual([path, s, body.safeParse(s).success]);
        if (!check(s)) refused++;
      }
    }
    expect(refused).toBeGreaterThan(50);
  });
});
