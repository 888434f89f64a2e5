/** What is missing, and how to fix it. */
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { installLine, missingPackages } from './packages';
import { runningServer } from './serve';
import { ROOT, say } from './shell';

/** Prints one line for each thing looked at; whether all is well. */
export const doctor = async (): Promise<boolean> => {
  let well = true;
  const line = (ok: boolean, what: string, fix: string): void => {
    well &&= ok;
    say(`${ok ? 'well   ' : 'missing'}  ${what}${ok ? '' : `\n         fix: ${fix}`}`);
  };
  const [major = 0, minor = 0] = process.versions.node.split('.').map(Number);
  line(major > 20 || (major === 20 && minor >= 19), `Node.js ${process.versions.node}`, 'install Node.js 20.19 or newer');
  const missing = missingPackages();
  line(
    process.env['DATABASE_URL'] !== undefined || !missing.includes('postgresql'),
    'PostgreSQL (or DATABASE_URL)',
    `as root: ${installLine(['postgresql'])}`,
  );
  line(
    !missing.includes('chromium-headless-shell'),
    'Chromium, for the tests and screenshots',
    `as root: ${installLine(['chromium-headless-shell'])}`,
  );
  line(existsSync(join(ROOT, 'dist/server/entry.mjs')), 'a build', './signal-post start builds it');
  const server = await runningServer();
  say(server ? `running  at http://127.0.0.1:${server.port} (${server.mode})` : 'stopped  no server of this checkout answers');
  return well;
};
