/** The words of the interface, of errors and of exports, as the sources have them. The browser tests read the screens for the same. */
import { readdirSync, readFileSync } from 'node:fs';
import ts from 'typescript';
import { expect, it } from 'vitest';
import { PHRASES } from './phrases';

interface Text {
  readonly where: string;
  readonly text: string;
}

/** Every text of a source that a person may read: literals, templates with `…` for what is filled in, and what stands between tags. */
const textsOf = (file: string): Text[] => {
  const source = ts.createSourceFile(file, readFileSync(file, 'utf8'), ts.ScriptTarget.Latest, true);
  const out: Text[] = [];
  const add = (node: ts.Node, text: string): void => {
    const line = source.getLineAndCharacterOfPosition(node.getStart(source)).line + 1;
    out.push({ where: `${file}:${line}`, text: text.replace(/\s+/g, ' ').trim() });
  };
  const visit = (node: ts.Node): void => {
    if (ts.isImportDeclaration(node) || ts.isTypeNode(node)) return;
    if (ts.isStringLiteralLike(node)) add(node, node.text);
    else if (ts.isJsxText(node)) add(node, node.text);
    else if (ts.isTemplateExpression(node)) add(node, node.head.text + node.templateSpans.map((s) => `…${s.literal.text}`).join(''));
    ts.forEachChild(node, visit);
  };
  visit(source);
  return out;
};

const files = readdirSync('src', { recursive: true, encoding: 'utf8' })
  .filter((f) => /\.tsx?$/.test(f) && !/migrations|^demo\//.test(f))
  .map((f) => `src/${f}`);
const texts = files.flatMap(textsOf).filter(({ text }) => / /.test(text) && !/^(?:select|insert|update|with|delete)\b/i.test(text));

it('finds the texts of the sources', () => {
  expect(texts.length).toBeGreaterThan(1500);
  expect(texts.some(({ text }) => text === 'No messages yet.')).toBe(true);
  expect(PHRASES.test('The finding then closes by itself.')).toBe(true);
  expect(PHRASES.test('A stand-in')).toBe(true);
});

it('has none of the phrases that nobody says', () => {
  // A stand-in is a thing of the product.
  const found = texts.filter(({ text }) => PHRASES.test(text.replace(/stand-ins?/gi, ''))).map(({ where, text }) => `${where}: ${text}`);
  expect(found).toEqual([]);
});

it('never says that messages were refused: they are rejected, and links are refused', () => {
  const found = texts.filter(({ text }) =>
    /\b(?:messages?|rows?) (?:was|were|is|are) refused|refused messages?|at the intake: refused/i.test(text),
  );
  expect(found).toEqual([]);
});
