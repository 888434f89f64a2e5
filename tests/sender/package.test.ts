/** The sender as others take it: a package that is installed, with types that every way of resolving modules reads. */
import { spawnSync } from 'node:child_process';
import { gzipSync } from 'node:zlib';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { build } from 'esbuild';
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
  const of = (name: string, ...endings: string[]): string[] => endings.map((e) => `${name}.${e}`);
  const both = ['cjs', 'd.cts', 'd.ts', 'js'];
  expect(readdirSync(join(at, 'node_modules/signal-post-sender/dist')).sort()).toEqual([...of('signal-post-page', ...both), 'signal-post-script.js', ...of('signal-post-sender', ...both), 'signal-post-stub.js', ...of('signal-post-testing', ...both)]); // prettier-ignore
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

test('every entry is there for modules and for CommonJS, with its types', () => {
  const use = `const names = [createSender, messageId, interactions, views, pageContext, sampling, createTestSender].map((f) => typeof f);
const s = createTestSender({ with: [sampling(1)] });
s.for({ user: 'm-1' }).event('A', { n: 1 });
console.log(names.every((n) => n === 'function'), s.messages.map((m) => m.ids.user).join(), PAGE_PROPERTIES.length);
`;
  const entries = {
    '': 'createSender, messageId',
    '/page': 'interactions, views, pageContext, sampling, PAGE_PROPERTIES',
    '/testing': 'createTestSender',
  };
  const all = Object.entries(entries);
  writeFileSync(join(at, 'all.mts'), all.map(([e, names]) => `import { ${names} } from 'signal-post-sender${e}';\n`).join('') + use);
  writeFileSync(join(at, 'all.cts'), all.map(([e, names]) => `import { ${names} } from 'signal-post-sender${e}';\n`).join('') + use);
  const tsc = resolve('node_modules/typescript/bin/tsc');
  expect(
    run(process.execPath, tsc, '--strict', '--module', 'nodenext', '--target', 'es2022', '--lib', 'es2022,dom', 'all.mts', 'all.cts'),
  ).toBe('');
  expect([run(process.execPath, 'all.mjs'), run(process.execPath, 'all.cjs')]).toEqual(['true m-1 5', 'true m-1 5']);
  for (const file of ['script', 'stub'])
    expect(run(process.execPath, '-p', `require.resolve('signal-post-sender/${file}')`)).toMatch(/\.js$/);
});

test('a bundler takes what is used alone', async () => {
  const sizeOf = async (code: string): Promise<number> => {
    const { outputFiles } = await build({ stdin: { contents: code, resolveDir: at }, bundle: true, minify: true, format: 'esm', write: false, logLevel: 'silent' }); // prettier-ignore
    return outputFiles[0]!.contents.length;
  };
  const of = (names: string, entry = ''): Promise<number> =>
    sizeOf(`import { ${names} } from 'signal-post-sender${entry}'; console.log(${names})`);
  const all = await of('createSender');
  expect(await sizeOf(`import 'signal-post-sender'; import 'signal-post-sender/page'`)).toBe(0);
  expect(await of('messageId')).toBeLessThan(all / 10);
  const page = await of('interactions, views, pageContext, sampling', '/page');
  for (const one of ['views', 'pageContext', 'sampling']) expect([one, (await of(one, '/page')) < page / 2]).toEqual([one, true]);
});
