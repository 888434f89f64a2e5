/** Import lines that no tool sees: those of `.astro` files, and what the first view of a station brings along. */
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import ts from 'typescript';
import { describe, expect, it, test } from 'vitest';

const filesUnder = (dir: string, ending: RegExp): string[] =>
  readdirSync(dir, { recursive: true, encoding: 'utf8' })
    .filter((f) => ending.test(f))
    .map((f) => join(dir, f));

describe('pages', () => {
  const pages = filesUnder('src', /\.astro$/);
  const ALLOWED = /^src\/(core|server|islands|ui|stand-ins)\//;
  it('are all found', () => expect(pages.map((p) => relative('src', p)).sort()).toContain('pages/[...station].astro'));
  test.each(pages)('%s takes only what pages may, and holds no logic', (page) => {
    const [, head = ''] = /^---\n([\s\S]*?)\n---/.exec(readFileSync(page, 'utf8')) ?? [];
    const lines = head.split('\n').filter((l) => l.trim() !== '');
    for (const line of lines) {
      const from = /^import .*?'([^']+)';$/.exec(line)?.[1];
      if (from?.startsWith('.')) expect([line, ALLOWED.test(join(dirname(page), from))]).toEqual([line, true]);
      else if (from !== undefined) expect([line, from.startsWith('astro')]).toEqual([line, true]);
    }
    expect(lines.filter((l) => !l.startsWith('import ')).length).toBeLessThanOrEqual(6);
  });
});

/** The file that an import of a source means. */
const resolved = (from: string, to: string): string | undefined => {
  const base = join(dirname(from), to);
  return ['', '.ts', '.tsx', '/index.ts'].map((e) => base + e).find((f) => /\.tsx?$/.test(f) && existsSync(f));
};

/** What a source imports when it is loaded: types are gone by then, and what is asked for with `import()` comes later. */
const importsOf = (file: string): string[] => {
  const source = ts.createSourceFile(file, readFileSync(file, 'utf8'), ts.ScriptTarget.Latest);
  return source.statements.flatMap((s) => {
    if (!(ts.isImportDeclaration(s) || ts.isExportDeclaration(s)) || !s.moduleSpecifier || !ts.isStringLiteral(s.moduleSpecifier))
      return [];
    if (ts.isExportDeclaration(s) && s.isTypeOnly) return [];
    if (ts.isImportDeclaration(s)) {
      const named = s.importClause?.namedBindings;
      const typesOnly =
        s.importClause?.isTypeOnly === true ||
        (!s.importClause?.name &&
          named !== undefined &&
          ts.isNamedImports(named) &&
          named.elements.length > 0 &&
          named.elements.every((e) => e.isTypeOnly));
      if (typesOnly) return [];
    }
    return [s.moduleSpecifier.text];
  });
};

/** Everything that is loaded with a file, each with the way to it. */
const loadedWith = (entry: string): { readonly files: ReadonlyMap<string, readonly string[]>; readonly packages: ReadonlySet<string> } => {
  const files = new Map<string, readonly string[]>([[entry, [entry]]]);
  const packages = new Set<string>();
  const queue = [entry];
  for (let file = queue.shift(); file !== undefined; file = queue.shift())
    for (const to of importsOf(file)) {
      if (!to.startsWith('.')) {
        packages.add(to);
        continue;
      }
      const found = resolved(file, to);
      if (found === undefined || files.has(found)) continue;
      files.set(found, [...files.get(file)!, found]);
      queue.push(found);
    }
  return { files, packages };
};

describe('what a page loads before its first view', () => {
  const WORKPLACE = 'src/islands/workplace/Workplace.tsx';
  const STATIONS = [
    WORKPLACE,
    'src/islands/questions/Questions.tsx',
    'src/islands/identity/Identity.tsx',
    'src/islands/hand-off/HandOff.tsx',
    'src/islands/arrivals/Arrivals.tsx',
    'src/islands/clearance/ClearanceStation.tsx',
  ];
  /** Large, and not needed to read anything: see decision 24. */
  const LATER = [
    'src/core/lint/rules/index.ts',
    'src/core/arrival/many/index.ts',
    'src/core/questions/formulas/computations.ts',
    'src/core/plan/document-schema.ts',
    'src/core/api/index.ts',
    'src/ui/Calendar.tsx',
    'src/islands/workplace/Palette.tsx',
  ];
  const LATER_PACKAGES = [
    'zod',
    'apexcharts',
    'react-apexcharts',
    'sonner',
    'cmdk',
    'react-day-picker',
    'papaparse',
    'yaml',
    'wink-lexicon/src/wn-verb-exceptions.js',
  ];

  test.each(STATIONS)('%s', (station) => {
    const { files, packages } = loadedWith(station);
    expect(files.size).toBeGreaterThan(10);
    expect(LATER.filter((f) => files.has(f)).map((f) => files.get(f))).toEqual([]);
    expect(LATER_PACKAGES.filter((p) => packages.has(p))).toEqual([]);
  });

  it('sees through a way of several files', () => {
    const { files, packages } = loadedWith('src/islands/workplace/Palette.tsx');
    expect(files.has('src/core/lint/rules/index.ts')).toBe(true);
    expect(packages.has('cmdk')).toBe(true);
    for (const f of LATER) expect([f, existsSync(f)]).toEqual([f, true]);
  });
});
