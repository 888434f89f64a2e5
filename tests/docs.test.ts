/** What is documented is there: files and headings that are linked, commands, benchmarks, steps, scripts and variables. */
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { dirname, join, normalize } from 'node:path';
import { expect, test } from 'vitest';

const documents = [
  'README.md',
  'CHANGELOG.md',
  'packages/sender/README.md',
  ...readdirSync('docs', { recursive: true, encoding: 'utf8' }).filter((f) => f.endsWith('.md')).map((f) => join('docs', f)), // prettier-ignore
];
const textOf = (file: string): string => readFileSync(file, 'utf8');
const all = documents.map((file) => [file, textOf(file)] as const);

/** The address of a heading within a document, as renderers of Markdown make it. */
const anchorOf = (heading: string): string =>
  heading.toLowerCase().replace(/[^\p{L}\p{N} _-]/gu, '').trim().replaceAll(' ', '-'); // prettier-ignore
const anchorsOf = (file: string): Set<string> => new Set([...textOf(file).matchAll(/^#+ (.*)$/gm)].map((m) => anchorOf(m[1]!)));

test('every link leads to a file that is there, and to a heading that is in it', () => {
  const broken: string[] = [];
  let links = 0;
  for (const [file, text] of all)
    for (const [, target = ''] of text.matchAll(/\]\(([^)\s]+)\)/g)) {
      if (/^[a-z]+:/.test(target)) continue;
      links++;
      const [path = '', anchor] = target.split('#');
      const at = path === '' ? file : normalize(join(dirname(file), path));
      if (!existsSync(at)) broken.push(`${file}: ${target}`);
      else if (anchor !== undefined && !anchorsOf(at).has(anchor)) broken.push(`${file}: ${target} (no such heading)`);
    }
  expect(broken.join('\n')).toBe('');
  expect(links).toBeGreaterThan(25);
});

/** What stands in a document as code: between fences, or between backquotes. */
const codeIn = (text: string): string =>
  [...text.matchAll(/```[a-z]*\n([\s\S]*?)```|`([^`\n]+)`/g)].map((m) => m[1] ?? m[2] ?? '').join('\n');

const main = textOf('ops/main.ts');
const commands = [...main.slice(main.indexOf('const commands')).matchAll(/^ {2}(\w+)(?:,$|: )/gm)].map((m) => m[1]!);
const benches = [...textOf('bench/main.ts').matchAll(/^ {2}'?([\w-]+)'?: bench\w+,$/gm)].map((m) => m[1]!);
const steps = [...textOf('ops/test.ts').matchAll(/\{ name: '([\w-]+)'(?:, of: '(\w+)')?/g)].flatMap((m) => [m[1]!, m[2] ?? m[1]!]);

test('the lists that documents are held against are read', () => {
  expect(commands).toEqual(expect.arrayContaining(['demo', 'start', 'test', 'bench', 'doctor', 'reset', 'mutate']));
  expect(benches.length).toBeGreaterThan(20);
  expect(steps).toEqual(expect.arrayContaining(['unit', 'browser', 'lint', 'build']));
});

test('every command of ./signal-post that is named is one, with benchmarks and steps that there are', () => {
  const wrong: string[] = [];
  let named = 0;
  for (const [file, text] of all) {
    if (file === 'CHANGELOG.md') continue;
    for (const [said, command = '', rest = ''] of codeIn(text).matchAll(/\.\/signal-post ([a-z]+)([^\n#;|&]*)/g)) {
      named++;
      if (!commands.includes(command)) wrong.push(`${file}: ${said}`);
      if (command === 'bench')
        for (const word of rest.trim().split(/\s+/).filter((w) => /^[a-z]/.test(w))) if (!benches.includes(word)) wrong.push(`${file}: ${said} (${word})`); // prettier-ignore
      const only = /--only ([\w,-]+)/.exec(rest)?.[1];
      for (const step of only?.split(',') ?? []) if (step !== 'NAME' && !steps.includes(step)) wrong.push(`${file}: ${said} (${step})`);
    }
  }
  expect(wrong.join('\n')).toBe('');
  expect(named).toBeGreaterThan(25);
});

test('every script of npm, file of the project and variable that is named is there', () => {
  const { scripts } = JSON.parse(textOf('package.json')) as { scripts: Record<string, string> };
  const sources = ['src', 'ops', 'bench', 'packages'].flatMap(
    (d) =>
    readdirSync(d, { recursive: true, encoding: 'utf8' }).filter((f) => /\.(ts|tsx|mjs|astro)$/.test(f) && !f.includes('node_modules')).map((f) => join(d, f)), // prettier-ignore
  );
  const code = [...sources, 'server.mjs', 'signal-post', 'playwright.config.ts', 'vitest.config.ts', ...readdirSync('tests', { recursive: true, encoding: 'utf8' }).filter((f) => f.endsWith('.ts')).map((f) => join('tests', f))].map(textOf).join('\n'); // prettier-ignore
  const wrong: string[] = [];
  for (const [file, text] of all) {
    if (file === 'CHANGELOG.md' || file.startsWith('docs/decisions')) continue;
    const said = codeIn(text);
    for (const [, script = ''] of said.matchAll(/npm run ([\w:-]+)/g)) if (!(script in scripts)) wrong.push(`${file}: npm run ${script}`);
    for (const [path] of said.matchAll(/\b(?:src|tests|bench|ops|docs|examples|packages)\/[\w./-]+\.(?:ts|tsx|mjs|json|md|png)\b/g))
      if (!existsSync(path)) wrong.push(`${file}: ${path}`);
    for (const [name] of said.matchAll(/\bSIGNAL_POST_[A-Z_]+\b/g)) if (!code.includes(name)) wrong.push(`${file}: ${name}`);
  }
  expect(wrong.join('\n')).toBe('');
});

test('every benchmark and every step has its words where it is looked for', () => {
  const readme = textOf('README.md');
  for (const name of benches) expect([name, new RegExp(`bench[^\`]*\\b${name}\\b`).test(readme)]).toEqual([name, true]);
});
