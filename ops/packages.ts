/** Debian packages that the commands need. */
import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { isRoot, run, say, Trouble } from './shell';

export const CHROMIUM = '/usr/bin/chromium';

/** The directory of PostgreSQL's server programs, the newest first; `undefined` when there is none. */
export const postgresBin = (): string | undefined => {
  const base = '/usr/lib/postgresql';
  if (!existsSync(base)) return undefined;
  return readdirSync(base)
    .sort((a, b) => Number(b) - Number(a))
    .map((v) => join(base, v, 'bin'))
    .find((d) => existsSync(join(d, 'initdb')));
};

const have = { postgresql: () => postgresBin() !== undefined, chromium: () => existsSync(CHROMIUM) } as const;
export type DebianPackage = keyof typeof have;

export const installLine = (names: readonly string[]): string =>
  `apt-get update && apt-get install -y --no-install-recommends ${names.join(' ')}`;

/** Installs what is missing, as root; otherwise says the exact line to run. */
export const ensurePackages = (...names: DebianPackage[]): void => {
  const missing = names.filter((n) => !have[n]());
  if (missing.length === 0) return;
  if (!isRoot()) throw new Trouble(`Missing: ${missing.join(', ')}. Run this once as root:\n  ${installLine(missing)}`);
  say(`Installing ${missing.join(' and ')} from Debian ...`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const r = run('sh', ['-c', installLine(missing)], { env });
  if (!r.ok || missing.some((n) => !have[n]()))
    throw new Trouble(`The installation failed:\n${r.out.slice(-2000)}\nRun it by hand: ${installLine(missing)}`);
};

export const missingPackages = (): DebianPackage[] => (Object.keys(have) as DebianPackage[]).filter((n) => !have[n]());
