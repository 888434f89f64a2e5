/** Schemas of the official JSON Schema test suite, draft 2020-12, brought in as the property of an event and given back.
 *  Source: JSON-Schema-Test-Suite by J. Berman, Expat licence, as in Debian's libtest-json-schema-acceptance-perl 1.019; files of the
 *  keywords that we use, vendored under data/json-schema-2020-12.
 *  Judged by the suite's own verdicts: Ajv 8 on the schema that we give back, and our checker. A property of the plan has one type, so a
 *  schema without one is given the type that its keyword is about, and only data of that type are compared (a listed value tells its type,
 *  and then all data are). Groups whose schema holds anything that the import reports as not taken over are left out, and counted: several
 *  types at once, $ref, nested properties and items, objects, arrays, null or mixed types as listed values, boolean schemas.
 */
import { readdirSync, readFileSync } from 'node:fs';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { expect, test } from 'vitest';
import { compileChecker } from '../../src/core/arrival/compile';
import { eventSchema } from '../../src/core/formats/json-schema';
import { schemaCarries } from '../schema-codes';
import { importSchema } from '../../src/core/formats/schema-import';
import { applyEdits } from '../../src/core/plan/edit';
import { planWith } from '../build/plan';

interface Group {
  readonly description: string;
  readonly schema: unknown;
  readonly tests: readonly { readonly description: string; readonly data: unknown; readonly valid: boolean }[];
}

const directory = new URL('data/json-schema-2020-12/', import.meta.url);
const groups = readdirSync(directory).flatMap((file) =>
  (JSON.parse(readFileSync(new URL(file, directory), 'utf8')) as Group[]).map((g) => ({ file, ...g })),
);

type Typed = { readonly schema: Record<string, unknown>; readonly fits: (data: unknown) => boolean };

const all = (): boolean => true;
const typeName = (v: unknown): string => (typeof v === 'number' ? 'number' : typeof v);

/** The schema with a type, and which data are about it; `undefined` where no one type is. */
const typed = (schema: unknown): Typed | undefined => {
  if (typeof schema !== 'object' || schema === null) return undefined;
  const s = schema as Record<string, unknown>;
  if ('type' in s) return { schema: s, fits: all };
  if ('minimum' in s || 'maximum' in s) return { schema: { ...s, type: 'number' }, fits: (d) => typeof d === 'number' };
  if ('pattern' in s) return { schema: { ...s, type: 'string' }, fits: (d) => typeof d === 'string' };
  const listed = Array.isArray(s['enum']) ? s['enum'] : 'const' in s ? [s['const']] : [];
  const types = new Set(listed.map((v) => (v === null ? 'null' : typeName(v))));
  const [type] = types;
  return types.size === 1 && ['string', 'number', 'boolean'].includes(type!) ? { schema: { ...s, type }, fits: all } : undefined;
};

/** A plan whose one event has the schema as its property; `undefined` when the import reports anything, or the type is only guessed. */
const broughtIn = (schema: unknown) => {
  let n = 0;
  const r = importSchema(planWith([]), { title: 'Suite Run', properties: { value: schema }, required: ['value'] }, '', () => `i${n++}`);
  if (r.problems.length > 0) return undefined;
  const applied = applyEdits(planWith([]), r.edits);
  if (!applied.ok) throw new Error('the import does not apply');
  return applied.plan;
};

test('groups that can be a property: the suite’s verdict, by the schema given back and by our checker', () => {
  const ajv = new Ajv2020({ ownProperties: true, strict: false });
  let compared = 0;
  let left = 0;
  for (const g of groups) {
    const own = typed(g.schema);
    const plan = own && broughtIn(own.schema);
    if (!plan) {
      left++;
      continue;
    }
    const event = Object.values(plan.event)[0]!;
    const validate = ajv.compile(eventSchema(plan, event));
    const checker = compileChecker(plan);
    for (const t of g.tests.filter((x) => own.fits(x.data))) {
      const where = `${g.file}: ${g.description}: ${t.description}`;
      expect(validate({ value: t.data }), `given back, ${where}`).toBe(t.valid);
      const found = checker
        .check({ kind: 'event', name: 'Suite Run', ids: {}, properties: { value: t.data } })
        .filter((f) => schemaCarries(f.code));
      expect(found.length === 0, `checked, ${where}`).toBe(t.valid);
      compared++;
    }
  }
  console.log(`JSON Schema suite: ${compared} verdicts compared, ${left} of ${groups.length} groups left out`);
  expect(compared).toBeGreaterThan(40);
});

test('what is left out is reported with its path, and nothing throws', () => {
  for (const g of groups) {
    let n = 0;
    const schema = { title: 'Suite Run', properties: { value: g.schema } };
    const r = importSchema(planWith([]), schema, '', () => `i${n++}`);
    for (const p of r.problems) expect(p.path.startsWith('/')).toBe(true);
  }
});
