/** The sender as others take it: a package that is installed, with types that every way of resolving modules reads. */
import { spawnSync } from 'node:child_process';
import { gzipSync } from 'node:zlib';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { beforeAll, expect, test } from 'vitest';
import { contentHash } from '../../src/core/plan/content-hash';
import { typescriptOf } from '../../src/core/formats/code/typescript';
import { demoPlan } from '../build/demo-plan';
import { DOWNLOADS } from '../cli/program';

let at = '';
const run = (command: string, ...args: string[]): string => {
  const r = spawnSync(command, args, { cwd: at, encoding: 'utf8' });
  return `${r.stdout}${r.stderr}`.trim();
};
beforeAll(() => {
  at = mkdtempSync(join(tmpdir(), 'uses-sender-'));
  const to = join(at, 'node_modules/signal-post-sender');
  mkdirSync(to, { recursive: true });
  expect(run('tar', 'xzf', join(DOWNLOADS, 'signal-post-sender.tgz'), '-C', to, '--strip-components=1')).toBe('');
  writeFileSync(join(at, 'package.json'), '{"type":"module"}');
});

test('it has no dependencies, and is at most 5 kB packed', () => {
  const made = JSON.parse(readFileSync(join(at, 'node_modules/signal-post-sender/package.json'), 'utf8')) as { dependencies?: object };
  expect(made.dependencies).toBeUndefined();
  expect(readdirSync(join(at, 'node_modules/signal-post-sender/dist')).sort()).toEqual(['index.d.ts', 'signal-post-sender.js']);
  expect(gzipSync(readFileSync(join(DOWNLOADS, 'signal-post-sender.js')), { level: 9 }).length).toBeLessThanOrEqual(5000);
});

test.each(['nodenext', 'bundler'])('generated calls compile against it under --moduleResolution %s, and run', (resolution) => {
  const plan = demoPlan();
  writeFileSync(join(at, 'plan.ts'), typescriptOf({ plan, number: 1, contentHash: contentHash(plan) }));
  writeFileSync(
    join(at, 'use.ts'),
    `import { senderFor, signedOut, loanStarted, units } from './plan.js';\nconst s = senderFor({ endpoint: 'http://127.0.0.1:9/intake', key: 'k', storage: 'none' });\nsignedOut(s);\nloanStarted(s, { tool_id: 'T-1', branch: 'Quayside', loan_days: units.days(3) });\nconsole.log(s.waiting);\nprocess.exit(0);\ndeclare const process: { exit(code: number): void };\n`,
  );
  const tsc = resolve('node_modules/typescript/bin/tsc');
  expect(
    run(
      process.execPath,
      tsc,
      '--strict',
      '--skipDefaultLibCheck',
      '--module',
      resolution === 'bundler' ? 'es2022' : 'nodenext',
      '--moduleResolution',
      resolution,
      '--target',
      'es2022',
      '--lib',
      'es2022,dom',
      'use.ts',
    ),
  ).toBe('');
  expect(run(process.execPath, 'use.js')).toBe('2');
});
