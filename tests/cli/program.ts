/** The build check as it is built, started by `node`. */
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join, resolve } from 'node:path';
import { contentHash } from '../../src/core/plan/content-hash';
import { planJson } from '../../src/core/formats/plan-json';
import type { Plan } from '../../src/core/plan/plan';

export interface Ran {
  readonly code: number | null;
  readonly out: string;
  readonly err: string;
}

/** Where the application's build has put what engineers download; the run builds it before the tests. */
export const DOWNLOADS = resolve('dist/client/downloads');

export const built = (): string => {
  const program = join(DOWNLOADS, 'signal-post-check.mjs');
  if (!existsSync(program)) throw new Error(`${program} is not there; run ./signal-post test --only build`);
  return program;
};

/** A folder with files in it. */
export const folderWith = (files: { readonly [path: string]: string }): string => {
  const at = mkdtempSync(join(tmpdir(), 'signal-post-files-'));
  for (const [path, text] of Object.entries(files)) {
    mkdirSync(dirname(join(at, path)), { recursive: true });
    writeFileSync(join(at, path), text);
  }
  return at;
};

export const runIn = (program: string, cwd: string, args: readonly string[], input?: string): Ran => {
  const r = spawnSync(process.execPath, [program, ...args], { cwd, encoding: 'utf8', input, maxBuffer: 1 << 28 });
  return { code: r.status, out: r.stdout, err: r.stderr };
};

export const documentOf = (plan: Plan, number = 1): string => planJson(plan, number, contentHash(plan));
