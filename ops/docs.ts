/** Writes docs/rules and docs/checks out of the files of the rules and checks: npm run docs. */
import { mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { REFERENCE, referenceMarkdown, referencePath } from '../src/core/reference';
import { ROOT } from './shell';

const docs = join(ROOT, 'docs');
for (const kind of ['rules', 'checks']) {
  mkdirSync(join(docs, kind), { recursive: true });
  for (const old of readdirSync(join(docs, kind))) rmSync(join(docs, kind, old));
}
for (const page of REFERENCE) {
  mkdirSync(dirname(join(docs, referencePath(page))), { recursive: true });
  writeFileSync(join(docs, referencePath(page)), referenceMarkdown(page));
}
