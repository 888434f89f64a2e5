/** Debian packages that the commands need. */
import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { isRoot, run, runBeside, say, Trouble } from './shell';

export const CHROMIUM = '/usr/bin/chromium-headless-shell';

/** The directory of PostgreSQL's server programs, the newest first; `undefined` when there is none. */
export const postgresBin = (): string | undefined => {
  const base = '/usr/lib/postgresql';
  if (!existsSync(base)) return undefined;
  return readdirSync(base)
    .sort((a, b) => Number(b) - Number(a))
    .map((v) => join(base, v, 'bin'))
    .find((d) => existsSync(join(d, 'initdb')));
};

const onPath = (name: string): boolean => (process.env['PATH'] ?? '').split(':').some((d) => d !== '' && existsSync(join(d, name)));

/** Each with how it is known to be there. The compilers are for tests alone: what is generated in their languages is held against them. */
const have = {
  postgresql: () => postgresBin() !== undefined,
  'chromium-headless-shell': () => existsSync(CHROMIUM),
  python3: () => onPath('python3'),
  'golang-go': () => onPath('go'),
  'default-jdk-headless': () => onPath('javac'),
  'libjackson2-databind-java': () => existsSync('/usr/share/java/jackson-databind.jar'),
  'libxml2-utils': () => onPath('xmllint'),
} as const;
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

const FOR_TESTS = [
  'chromium-headless-shell',
  'python3',
  'golang-go',
  'default-jdk-headless',
  'libjackson2-databind-java',
  'libxml2-utils',
] as const;

/** Installs what tests need besides, while other work goes on; whether all is there. */
export const installPackages = async (): Promise<boolean> => {
  const missing = FOR_TESTS.filter((n) => !have[n]());
  if (missing.length === 0) return true;
  if (!isRoot()) throw new Trouble(`Missing: ${missing.join(', ')}. Run this once as root:\n  ${installLine(missing)}`);
  say(`Installing ${missing.join(' and ')} from Debian ...`);
  const r = await runBeside('sh', ['-c', installLine(missing)], { ...process.env, DEBIAN_FRONTEND: 'noninteractive' });
  if (!r.ok || missing.some((n) => !have[n]())) throw new Trouble(`The installation failed:\n${r.out.slice(-2000)}\nRun it by hand: ${installLine(missing)}`); // prettier-ignore
  return true;
};

/** What runs need, tests left out. */
export const missingPackages = (): DebianPackage[] => (['postgresql', 'chromium-headless-shell'] as const).filter((n) => !have[n]());
