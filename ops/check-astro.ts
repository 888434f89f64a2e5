/** Types of the .astro files; all else is checked by the native compiler, which reads none of them. Exits 1 where something is wrong. */
import { createRequire } from 'node:module';
import type * as check from '@astrojs/language-server/dist/check.js';
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT } from './shell';

const require = createRequire(import.meta.url);
const { AstroCheck } = require('@astrojs/language-server/dist/check.js') as typeof check;

const files = readdirSync(join(ROOT, 'src'), { recursive: true, encoding: 'utf8' }).filter((f) => f.endsWith('.astro')).map((f) => join(ROOT, 'src', f)); // prettier-ignore
if (files.length === 0) throw new Error('there are no .astro files to check');
const checker = new AstroCheck(ROOT, require.resolve('typescript/lib/typescript.js'), undefined);
const { errors, warnings } = await checker.lint({ fileNames: files, logErrors: { level: 'warning' } });
console.log(`${files.length} files, ${errors} errors, ${warnings} warnings`);
process.exit(errors + warnings === 0 ? 0 : 1);
