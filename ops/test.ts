/** All tests, step by step, with one closing line. */
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBuild } from './build';
import { ensurePackages } from './packages';
import { freshDatabase, startCluster, stopCluster, type Cluster } from './postgres';
import { prepareDemo, prepareEmpty } from './prepare';
import { addressOf, startServer, stopServer } from './serve';
import { freePort, RUN_DIR, runBeside, say, show } from './shell';

interface Tally {
  passed: number;
  failed: number;
  /** What failed, and how: said once more at the end, where a log that is cut still has it. */
  why?: readonly string[];
}

const LINES_OF_ONE = 14;
// eslint-disable-next-line no-control-regex
const COLOURS = /\u001b\[[0-9;]*m/g;
const inShort = (title: string, message: string): string =>
  [
    title,
    ...message
      .replace(COLOURS, '')
      .split('\n')
      .filter((l) => l.trim() !== '' && !l.includes('/node_modules/'))
      .slice(0, LINES_OF_ONE),
  ].join('\n    ');

const bin = (path: string, ...args: string[]): [string, string[]] => [process.execPath, [`node_modules/${path}`, ...args]];

/** A step that passes or fails as a whole; its output is shown only when it fails. */
const whole =
  ([command, args]: [string, string[]]) =>
  async (): Promise<Tally> => {
    const r = await runBeside(command, args);
    if (!r.ok) say(r.out.slice(-8000));
    return { passed: r.ok ? 1 : 0, failed: r.ok ? 0 : 1 };
  };

const report = (name: string): string => join(RUN_DIR, `report-${name}.json`);

/** A test runner's own count; a run that leaves no report counts as a failure. */
const counted = async (
  name: string,
  read: (json: never) => Tally,
  command: string,
  args: string[],
  env: NodeJS.ProcessEnv,
): Promise<Tally> => {
  rmSync(report(name), { force: true });
  const ok = await show(command, args, env);
  if (!existsSync(report(name))) return { passed: 0, failed: 1 };
  const tally = read(JSON.parse(readFileSync(report(name), 'utf8')) as never);
  if (tally.passed + tally.failed === 0) return { passed: 0, failed: 1 };
  return ok || tally.failed > 0 ? tally : { ...tally, failed: 1 };
};

let cluster: Promise<Cluster> | undefined;
const testCluster = (): Promise<Cluster> => (cluster ??= startCluster('postgres-test'));

const vitest = async (): Promise<Tally> => {
  ensurePackages('python3', 'golang-go', 'default-jdk-headless', 'libjackson2-databind-java', 'libxml2-utils');
  const url = await freshDatabase(await testCluster(), 'signal_post_test');
  const [command, args] = bin('vitest/vitest.mjs', 'run', '--reporter=dot', '--reporter=json', `--outputFile.json=${report('vitest')}`);
  const read = (j: {
    numPassedTests: number;
    numFailedTests: number;
    numFailedTestSuites: number;
    testResults: { name: string; message?: string; assertionResults: { fullName: string; status: string; failureMessages?: string[] }[] }[];
  }): Tally => ({
    passed: j.numPassedTests,
    failed: Math.max(j.numFailedTests, j.numFailedTestSuites > 0 ? 1 : 0),
    why: j.testResults.flatMap((file) => [
      ...(file.message ? [inShort(file.name, file.message)] : []),
      ...file.assertionResults
        .filter((a) => a.status === 'failed')
        .map((a) => inShort(`${file.name}: ${a.fullName}`, a.failureMessages?.[0] ?? '')),
    ]),
  });
  return counted('vitest', read, command, args, { ...process.env, TEST_DATABASE_URL: url });
};

const TEST_VISITORS = 1500;

const browser = async (): Promise<Tally> => {
  ensurePackages('chromium');
  const url = await freshDatabase(await testCluster(), 'signal_post_browser');
  await prepareDemo(url, { visitors: TEST_VISITORS });
  const emptyUrl = await freshDatabase(await testCluster(), 'signal_post_browser_empty');
  await prepareEmpty(emptyUrl);
  const port = await freePort(4650);
  const server = await startServer(url, port, { quiet: true });
  const emptyPort = await freePort(port + 1);
  const emptyServer = await startServer(emptyUrl, emptyPort, { quiet: true });
  try {
    const [command, args] = bin('@playwright/test/cli.js', 'test');
    interface Suite {
      suites?: Suite[];
      specs: { title: string; file: string; ok: boolean; tests: { results: { error?: { message?: string } }[] }[] }[];
    }
    const failing = (suite: Suite): string[] => [
      ...suite.specs
        .filter((s) => !s.ok)
        .map((s) => inShort(`${s.file}: ${s.title}`, s.tests.flatMap((t) => t.results.flatMap((r) => r.error?.message ?? [])).join('\n'))),
      ...(suite.suites ?? []).flatMap(failing),
    ];
    const read = (j: { stats: { expected: number; unexpected: number; flaky: number }; suites: Suite[] }): Tally => ({
      passed: j.stats.expected,
      failed: j.stats.unexpected + j.stats.flaky,
      why: j.suites.flatMap(failing),
    });
    return await counted('browser', read, command, args, {
      ...process.env,
      BASE_URL: addressOf(port),
      EMPTY_URL: addressOf(emptyPort),
      BROWSER_DATABASE_URL: url,
      PLAYWRIGHT_JSON_OUTPUT_NAME: report('browser'),
    });
  } finally {
    await stopServer(server);
    await stopServer(emptyServer);
  }
};

const build = (): Promise<Tally> => {
  ensureBuild();
  return Promise.resolve({ passed: 1, failed: 0 });
};

type Step = readonly [name: string, work: () => Promise<Tally>];

/** One after the other; where there are several lanes, they run beside each other. */
const stages: readonly (readonly (readonly Step[])[])[] = [
  // Types that the framework makes, which all that look at types need.
  [[['sync', whole(bin('astro/astro.js', 'sync'))]]],
  [
    [['lint', whole(bin('eslint/bin/eslint.js', '--max-warnings', '0', '.'))]],
    [
      ['format', whole(bin('prettier/bin/prettier.cjs', '--check', '--log-level', 'warn', '.'))],
      ['types', whole(bin('@astrojs/check/bin/astro-check.js'))],
      ['core-types', whole(bin('typescript/bin/tsc', '-p', 'tsconfig.core.json'))],
      ['unused', whole(bin('knip/bin/knip.js', '--exclude', 'types'))],
      ['rules', whole(bin('dependency-cruiser/bin/dependency-cruise.mjs', '--output-type', 'err', 'src'))],
    ],
  ],
  [[['build', build]]],
  [[['unit', vitest]]],
  [[['browser', browser]]],
];

/** Runs the steps, or those named after `--only`; whether all passed. */
export const runTests = async (args: readonly string[]): Promise<boolean> => {
  const only = args[0] === '--only' ? new Set((args[1] ?? '').split(',')) : undefined;
  mkdirSync(RUN_DIR, { recursive: true });
  const total: Tally = { passed: 0, failed: 0 };
  const failures: string[] = [];
  const why: string[] = [];
  const take = async ([name, work]: Step): Promise<void> => {
    if (only && !only.has(name)) return;
    const began = Date.now();
    let tally: Tally;
    try {
      tally = await work();
    } catch (e) {
      say(e instanceof Error ? e.message : String(e));
      tally = { passed: 0, failed: 1 };
    }
    total.passed += tally.passed;
    total.failed += tally.failed;
    if (tally.failed > 0) why.push(...(tally.why ?? []));
    if (tally.failed > 0) failures.push(name);
    say(
      `${tally.failed > 0 ? 'FAILED' : 'passed'}  ${name} (${tally.passed} passed, ${tally.failed} failed) in ${Math.round((Date.now() - began) / 1000)} s`,
    );
  };
  for (const lanes of stages) {
    await Promise.all(
      lanes.map(async (lane) => {
        for (const step of lane) await take(step);
      }),
    );
    // Without a build there is nothing to run the others on.
    if (failures.includes('build')) break;
  }
  if (cluster) stopCluster('postgres-test');
  for (const w of why) say(w);
  if (failures.length > 0) say(`Failed: ${failures.join(', ')}. Run one again with ./signal-post test --only NAME`);
  say(`${total.passed} passed, ${total.failed} failed`);
  return total.failed === 0 && total.passed > 0;
};
