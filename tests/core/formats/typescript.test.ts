import { join } from 'node:path';
import fc from 'fast-check';
import ts from 'typescript';
import { describe, expect, it, test } from 'vitest';
import { callText, placeholdersIn, typescriptOf } from '../../../src/core/formats/code/typescript';
import { identifiers } from '../../../src/core/formats/code/identifier';
import { isPlaceholder } from '../../../src/core/identity/placeholder';
import { contentHash } from '../../../src/core/plan/content-hash';
import type { Plan } from '../../../src/core/plan/plan';
import { create, event, planWith, property } from '../../build/plan';
import { plan as anyPlan } from '../../build/arbitrary-plan';
import { demoPlan } from '../../build/demo-plan';

const given = (plan: Plan, number = 4) => ({ plan, number, contentHash: contentHash(plan) });

const OPTIONS: ts.CompilerOptions = {
  strict: true,
  exactOptionalPropertyTypes: true,
  noUncheckedIndexedAccess: true,
  noUnusedLocals: true,
  target: ts.ScriptTarget.ES2022,
  module: ts.ModuleKind.ES2022,
  moduleResolution: ts.ModuleResolutionKind.Bundler,
  lib: ['lib.es2022.d.ts', 'lib.dom.d.ts'],
  types: [],
  noEmit: true,
  skipLibCheck: true,
  allowImportingTsExtensions: true,
  paths: { 'signal-post-sender': [join(process.cwd(), 'packages/sender/src/index.ts')] },
};
const libraries = new Map<string, ts.SourceFile | undefined>();
const host = ts.createCompilerHost(OPTIONS);
const readFile = host.getSourceFile.bind(host);
/** What the compiler says of files that are in memory alone, a line each: file, and the message. */
const compiled = (files: { readonly [name: string]: string }): string[] => {
  const at = new Map(Object.entries(files).map(([name, text]) => [join(process.cwd(), 'tests', name), text]));
  const program = ts.createProgram([...at.keys()], OPTIONS, {
    ...host,
    fileExists: (f) => at.has(f) || host.fileExists(f),
    readFile: (f) => at.get(f) ?? host.readFile(f),
    getSourceFile(f, how) {
      const own = at.get(f);
      if (own !== undefined) return ts.createSourceFile(f, own, how);
      if (!libraries.has(f)) libraries.set(f, readFile(f, how));
      return libraries.get(f);
    },
  });
  return ts
    .getPreEmitDiagnostics(program)
    .filter((d) => d.file !== undefined && at.has(d.file.fileName))
    .map((d) => `${d.file!.fileName.split('/').at(-1)!}: ${ts.flattenDiagnosticMessageText(d.messageText, ' ')}`);
};

const head = `import { loanStarted, senderFor, toolViewed, units, guideRead, signedOut } from './plan.ts';
declare const key: string;
const sender = senderFor({ endpoint: 'https://post.example.org/intake', key });
const tool = { tool_id: 'T-1', tool_name: 'Drill', tool_category: 'drills', branch: 'Quayside', deposit: units.minorUnits(2500) } as const;
void [loanStarted, toolViewed, guideRead, signedOut, tool, sender];
`;
const plan = demoPlan();
const generated = typescriptOf(given(plan));

describe('the demo’s plan', () => {
  it('compiles, and right uses of it too', () => {
    const use = `${head}
toolViewed(sender, tool);
toolViewed(sender, tool, { page: '/tools/T-1', marks: ['test'] });
loanStarted(sender, { tool_id: 'T-1', branch: 'Quayside', loan_days: units.days(3) });
guideRead(sender, { guide_share: units.percent(25), tool_category: 'drills' });
signedOut(sender);
`;
    expect(compiled({ 'plan.ts': generated, 'use.ts': use })).toEqual([]);
  });

  it.each([
    ['an event that is misspelt', `import { toolVeiwed } from './plan.ts';\ntoolVeiwed(sender, tool);`, /no exported member.*toolVeiwed/],
    [
      'a property that is misspelt',
      `toolViewed(sender, { ...tool, tool_nmae: 'Drill' });\nloanStarted(sender, { tool_id: 'T', branch: 'Quayside', loan_dais: units.days(3) });`,
      /loan_dais/,
    ],
    ['a required property that is missing', `loanStarted(sender, { tool_id: 'T-1', branch: 'Quayside' });`, /loan_days.*missing/],
    ['a type that is wrong', `toolViewed(sender, { ...tool, tool_id: 412 });`, /'number' is not assignable to type 'string'/],
    [
      'a number without its unit',
      `loanStarted(sender, { tool_id: 'T-1', branch: 'Quayside', loan_days: 3 });`,
      /'number' is not assignable to type 'In<"days">'/,
    ],
    [
      'another unit',
      `loanStarted(sender, { tool_id: 'T-1', branch: 'Quayside', loan_days: units.percent(3) });`,
      /In<"percent">.*not assignable.*In<"days">/,
    ],
    ['a value that is not on the list', `toolViewed(sender, { ...tool, branch: 'Harbour' });`, /"Harbour"' is not assignable/],
    ['a placeholder that was left', callText(plan, plan.event['loan-started']!), /not assignable/],
  ])('%s does not compile', (_, use, expected) => {
    const said = compiled({ 'plan.ts': generated, 'use.ts': head + use });
    expect(said.filter((s) => !s.startsWith('use.ts'))).toEqual([]);
    expect(said.join('\n')).toMatch(expected);
  });

  it('is byte for byte the same for the same plan, whatever the order of its tables; and another for another', () => {
    const reversed = {
      ...plan,
      event: Object.fromEntries(Object.entries(plan.event).reverse()),
      userProperty: Object.fromEntries(Object.entries(plan.userProperty).reverse()),
    };
    expect(typescriptOf(given(reversed))).toBe(generated);
    expect(typescriptOf(given(plan, 5))).not.toBe(generated);
  });

  it('of one source has the events of that source alone, and says so', () => {
    const text = typescriptOf(given(plan), 'payments');
    expect(text).toContain('source Payments');
    expect([text.includes('lateFeeCharged'), text.includes('toolViewed')]).toEqual([true, false]);
  });
});

describe('names', () => {
  it.each([
    [
      ['Tool Viewed', 'tool_viewed', 'toolViewed'],
      ['toolViewed', 'toolViewed2', 'toolViewed3'],
    ],
    [
      ['delete', 'Class', 'new'],
      ['delete_', 'class_', 'new_'],
    ],
    [
      ['3D Shown', '!!', '…'],
      ['_3DShown', 'event', 'event2'],
    ],
    [
      ['Größe geändert', 'товар просмотрен', '商品閲覧'],
      ['größeGeändert', 'товарПросмотрен', '商品閲覧'],
    ],
  ])('%j become %j', (names, expected) => {
    expect([...identifiers(names).values()].map((v) => v.small)).toEqual(expected);
  });

  it('each is legal, and no two are one', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(
          fc.oneof(fc.string({ unit: 'grapheme', minLength: 1, maxLength: 12 }), fc.constantFrom('a b', 'a_b', 'aB', 'if', '1')),
          { maxLength: 20 },
        ),
        (names) => {
          const all = [...identifiers(names).values()].flatMap((v) => [v.small, v.large]);
          expect(new Set(all).size).toBe(all.length);
          for (const n of all) expect([n, /^[\p{ID_Start}$_][\p{ID_Continue}$]*$/u.test(n)]).toEqual([n, true]);
        },
      ),
    );
  });
});

test('hostile texts, colliding properties, nested objects and lists compile', () => {
  const hostile = planWith(
    [
      property('a', { name: 'tool_id', description: 'ends */ here\n` and "quotes"', samples: ['*/', '${x}'] }),
      property('b', { name: 'toolId', type: 'list of integer', unit: 'h' }),
      property('c', { name: '__proto__', type: 'boolean', allowed: ['true'] }),
      property('d', { name: 'total', within: ['order', 'sum of all'], type: 'number', unit: 'major units' }),
      property('e', { name: 'größe', type: 'number', allowed: ['1', '2.5'] }),
      property('f', { name: 'when', type: 'timestamp' }),
      property('g', { name: 'line\nbreak', allowed: ['a\u2028b', "it's"] }),
      create('source', 's', { name: 'Sho\u2028p' }),
      event('x', {
        name: 'Weird "name" \\ ${1} */',
        trigger: 'When */ it\nhappens',
        properties: ['a', 'b', 'c', 'd', 'e', 'f', 'g'].map((propertyId) => ({ propertyId, required: true })),
        sources: [{ sourceId: 's', required: true, build: 'agreed' }],
        series: { property: ['order', 'sum of all', 'total'], values: ['1'] },
      }),
      event('y', { name: 'delete' }),
    ],
    { name: 'A\nworkspace' },
  );
  expect(compiled({ 'plan.ts': typescriptOf(given(hostile)) })).toEqual([]);
});

test('plans at random compile', () => {
  const files = fc.sample(anyPlan, { numRuns: 12, seed: 7 }).map((drawn, i) => [`plan-${i}.ts`, typescriptOf(given(drawn))]);
  expect(compiled(Object.fromEntries(files) as Record<string, string>)).toEqual([]);
});

test('everything to be replaced in a call is a value that the checks refuse', () => {
  for (const e of Object.values(plan.event))
    for (const open of placeholdersIn(callText(plan, e))) expect([open, isPlaceholder(`{{${open}}}`)]).toEqual([open, true]);
});
