/** Files and folders, as text. */
import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { unreadable } from '../trouble';

export const readText = (path: string): string => {
  try {
    return readFileSync(path === '-' ? 0 : path, 'utf8');
  } catch (e) {
    throw unreadable(path, (e as NodeJS.ErrnoException).code === 'ENOENT' ? 'there is no such file.' : (e as Error).message);
  }
};

export const isFolder = (path: string): boolean => {
  try {
    return statSync(path).isDirectory();
  } catch {
    return false;
  }
};

const SKIPPED = new Set(['node_modules', 'dist', 'build', 'out', 'target', 'vendor', 'coverage']);

/** Files under a folder with slashes, in order; hidden ones and what is built or installed are left out. */
export const filesUnder = (folder: string, inside = ''): string[] =>
  readdirSync(join(folder, inside), { withFileTypes: true })
    .filter((e) => !e.name.startsWith('.'))
    .sort((a, b) => (a.name < b.name ? -1 : 1))
    .flatMap((e) => {
      const path = inside === '' ? e.name : `${inside}/${e.name}`;
      if (e.isDirectory()) return SKIPPED.has(e.name) ? [] : filesUnder(folder, path);
      return e.isFile() ? [path] : [];
    });
