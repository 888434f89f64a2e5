/** The pages of rules and checks: one each, complete, and as docs/ has them. */
import { readdirSync, readFileSync } from 'node:fs';
import { expect, test } from 'vitest';
import { allChecks } from '../../src/core/arrival/words';
import { allRules } from '../../src/core/lint/lint';
import { REFERENCE, referenceMarkdown, referenceOf, referencePath } from '../../src/core/reference';

test('each rule and each check has one page, and no two share an ID', () => {
  const ids = REFERENCE.map((p) => p.id);
  expect(new Set(ids).size).toBe(ids.length);
  expect([...ids].sort()).toEqual([...allRules.map((r) => r.id), ...allChecks.map((c) => c.id)].sort());
});

test('each page says something wrong and something right, which are not the same', () => {
  for (const { id, example, method, why } of REFERENCE) {
    expect([id, example.wrong.length > 5, example.right.length > 1, example.wrong === example.right]).toEqual([id, true, true, false]);
    expect([id, method.length > 20, why.endsWith('.')]).toEqual([id, true, true]);
  }
});

test('docs/ holds just these pages, as they are now (npm run docs writes them)', () => {
  const written = ['rules', 'checks'].flatMap((kind) => readdirSync(`docs/${kind}`).map((f) => `${kind}/${f}`));
  expect(written.sort()).toEqual(REFERENCE.map(referencePath).sort());
  for (const page of REFERENCE) expect(readFileSync(`docs/${referencePath(page)}`, 'utf8')).toBe(referenceMarkdown(page));
});

test('parameters of a page are those that the settings know', () => {
  for (const c of allChecks) expect(Object.keys(referenceOf(c.id)!.parameters)).toEqual(Object.keys(c.parameters ?? {}));
  expect(referenceMarkdown(referenceOf('unit-suspicion')!)).toContain('Values of a release that it takes to judge: 20 values');
});
