/** Which tests a change can reach: by the imports of the code, nearest first. */
import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { dirname, join, normalize } from 'node:path';
import ts from 'typescript';
import { ROOT } from './shell';

const git = (...args: string[]): string[] =>
  spawnSync('git', args, { cwd: ROOT, encoding: 'utf8' }).stdout.split('\n').filter((l) => l !== ''); // prettier-ignore

/** What differs from the last commit, files that git does not know yet included. */
export const changedFiles = (): string[] =>
  [...new Set([...git('diff', '--name-only', 'HEAD'), ...git('ls-files', '--others', '--exclude-standard')])].filter((f) =>
    existsSync(join(ROOT, f)),
  );

const ENDINGS = ['', '.ts', '.tsx', '.mjs', '/index.ts'];

/** File → files that import it. */
const importers = (files: readonly string[], read: (file: string) => string): Map<string, string[]> => {
  const known = new Set(files);
  const by = new Map<string, string[]>();
  for (const file of files)
    for (const { fileName } of ts.preProcessFile(read(file), true, true).importedFiles) {
      if (!fileName.startsWith('.')) continue;
      const at = normalize(join(dirname(file), fileName));
      const target = ENDINGS.map((e) => at + e).find((f) => known.has(f));
      if (target !== undefined) by.set(target, [...(by.get(target) ?? []), file]);
    }
  return by;
};

/** Test files with how many imports they are away from what changed, nearest first.
 *  Shape: paths from the root of the project. What is reached through a built program alone is not seen.
 */
export const testsReached = (
  changed: readonly string[],
  files = git('ls-files', '--cached', '--others', '--exclude-standard', '*.ts', '*.tsx', '*.mjs').filter((f) => existsSync(join(ROOT, f))),
  read = (file: string): string => readFileSync(join(ROOT, file), 'utf8'),
): readonly (readonly [file: string, distance: number])[] => {
  const by = importers(files, read);
  const distance = new Map(changed.map((f) => [f, 0]));
  const queue = [...distance.keys()];
  for (let file = queue.shift(); file !== undefined; file = queue.shift())
    for (const next of by.get(file) ?? [])
      if (!distance.has(next)) {
        distance.set(next, distance.get(file)! + 1);
        queue.push(next);
      }
  return [...distance].filter(([f]) => f.endsWith('.test.ts')).sort((a, b) => a[1] - b[1] || (a[0] < b[0] ? -1 : 1));
};
