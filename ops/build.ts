/** Builds the application when its sources changed. */
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT, run, runBeside, say, Trouble, type Ran } from './shell';

const filesIn = (directory: string): string[] =>
  readdirSync(directory, { withFileTypes: true }).flatMap((e) =>
    e.isDirectory() ? filesIn(join(directory, e.name)) : [join(directory, e.name)],
  );

const fingerprint = (): string => {
  const hash = createHash('sha256');
  const files = [
    ...filesIn(join(ROOT, 'src')).sort(),
    ...filesIn(join(ROOT, 'packages'))
      .filter((f) => !f.includes('/dist/'))
      .sort(),
    ...['astro.config.mjs', 'ops/downloads.mjs', 'package-lock.json', 'tsconfig.json'].map((f) => join(ROOT, f)),
  ];
  for (const f of files) hash.update(f).update(readFileSync(f));
  return hash.digest('hex');
};

// Beside the build itself, so that the two cannot part.
const MARK = join(ROOT, 'dist', 'built-from');

const isBuiltFrom = (wanted: string): boolean =>
  existsSync(MARK) && existsSync(join(ROOT, 'dist/server/entry.mjs')) && readFileSync(MARK, 'utf8') === wanted;
const BUILD = [process.execPath, ['node_modules/astro/astro.js', 'build']] as const;

const took = (r: Ran, wanted: string): void => {
  if (!r.ok) throw new Trouble(`The build failed:\n${r.out.slice(-4000)}`);
  writeFileSync(MARK, wanted);
};

/** Builds unless the last build was of the same sources. */
export const ensureBuild = (): void => {
  const wanted = fingerprint();
  if (isBuiltFrom(wanted)) return;
  say('Building (half a minute, after each change of the sources) ...');
  took(run(...BUILD), wanted);
};

/** The same while other work goes on, as a step of the tests. */
export const buildApplication = async (): Promise<{ readonly passed: number; readonly failed: number }> => {
  const wanted = fingerprint();
  if (!isBuiltFrom(wanted)) took(await runBeside(...BUILD), wanted);
  return { passed: 1, failed: 0 };
};
