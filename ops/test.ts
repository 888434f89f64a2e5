/** All tests: two steps at a time, one for each core, with one closing line. */
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { dropTemplates, testDatabase } from '../tests/build/database';
import { buildApplication } from './build';
import { ensurePackages, installPackages } from './packages';
import { ensureDatabase, startCluster, stopCluster, WITHOUT_CRASHES, type Cluster } from './postgres';
import { changedFiles, testsReached } from './related';
import { addressOf, MEMORY, startServer, stopServer } from './serve';
import { freePort, ROOT, RUN_DIR, runBeside, say, Trouble } from './shell';
import { readPlaywright, readVitest, type PlaywrightReport, type Tally, type VitestReport } from './test-reports';

const bin = (path: string, ...args: string[]): [string, string[]] => [process.execPath, [`node_modules/${path}`, ...args]];
const native = (...args: string[]): [string, string[]] => ['node_modules/typescript-native/bin/tsc', args];

/** A step that passes or fails as a whole; its output is shown only when it fails. */
const whole =
  ([command, args]: [string, string[]]) =>
  async (): Promise<Tally> => {
    const r = await runBeside(command, args);
    return r.ok ? { passed: 1, failed: 0 } : { passed: 0, failed: 1, why: [r.out.slice(-8000)] };
  };

const report = (name: string): string => join(RUN_DIR, `report-${name}.json`);

/** A test runner's own count; a run that leaves no report, or ran nothing, counts as a failure. */
const counted = async <R>(
  name: string,
  read: (json: R) => Tally,
  [command, args]: [string, string[]],
  env: NodeJS.ProcessEnv,
): Promise<Tally> => {
  rmSync(report(name), { force: true });
  const r = await runBeside(command, args, { ...process.env, ...env }, join(RUN_DIR, `log-${name}.txt`));
  const last = r.out.slice(-4000);
  if (!existsSync(report(name))) return { passed: 0, failed: 1, why: [`${name} left no report:\n${last}`] };
  const tally = read(JSON.parse(readFileSync(report(name), 'utf8')) as R);
  if (tally.passed + tally.failed === 0) return { passed: 0, failed: 1, why: [`${name} ran no test:\n${last}`] };
  return r.ok || tally.failed > 0 ? tally : { ...tally, failed: 1, why: [`${name} failed besides its tests:\n${last}`] };
};

let cluster: Promise<string> | undefined;
/** The address of a database on the tests' own cluster, by which others are made. */
const testCluster = (): Promise<string> =>
  (cluster ??= startCluster('postgres-test', WITHOUT_CRASHES).then(async (c: Cluster) => {
    const url = await ensureDatabase(c, 'signal_post_test');
    await dropTemplates(url);
    process.env['TEST_DATABASE_URL'] = url;
    return url;
  }));

interface Asked {
  readonly files: readonly string[];
  readonly title: string | undefined;
}

const vitest =
  (name: string, { files, title }: Asked, ...args: string[]) =>
  async (): Promise<Tally> => {
    await testCluster();
    const command = bin(
      'vitest/vitest.mjs',
      'run',
      '--reporter=dot',
      '--reporter=json',
      `--outputFile.json=${report(name)}`,
      '--passWithNoTests',
      ...args,
      ...(title === undefined ? [] : ['-t', title.replaceAll(/[.*+?^${}()|[\]\\]/g, '\\$&')]),
      ...files,
    );
    return counted<VitestReport>(name, readVitest, command, {});
  };

const TEST_VISITORS = 1500;
/** Pauses that grow with what the machine has to do would make tests wait for it. */
const PATIENT = { SIGNAL_POST_PAUSES: '0', SIGNAL_POST_PATIENCE_MS: '60000' };
const SPECS = readdirSync(join(ROOT, 'tests/browser'))
  .filter((f) => f.endsWith('.spec.ts'))
  .map((f) => `tests/browser/${f}`);
const FIRST_GROUP = /\/(1-line|2-keyboard|4-plan|5-arrivals|9-walk|98-trial|12-examples)\.spec/;
/** Each group has its own database and server, so that they do not meet; within one the files run in their order. What is new is in the second. */
const BROWSER_GROUPS = [SPECS.filter((f) => FIRST_GROUP.test(f)), SPECS.filter((f) => !FIRST_GROUP.test(f))] as const;

const browser =
  (group: 0 | 1, { files, title }: Asked) =>
  async (): Promise<Tally> => {
    const own = BROWSER_GROUPS[group].filter((f) => files.length === 0 || files.includes(f));
    if (own.length === 0) return { passed: 0, failed: 0 };
    await testCluster();
    const name = `browser-${group + 1}`;
    const url = await testDatabase(`signal_post_browser_${group}`, { visitors: TEST_VISITORS });
    const emptyUrl = await testDatabase(`signal_post_browser_empty_${group}`, 'empty');
    const port = await freePort(4650 + group * 20);
    const [server, emptyPort] = [await startServer(url, port, { quiet: true, env: PATIENT }), await freePort(port + 1)];
    const emptyServer = await startServer(emptyUrl, emptyPort, { quiet: true, env: PATIENT });
    try {
      const command = bin('@playwright/test/cli.js', 'test', ...own, ...(title === undefined ? [] : ['-g', title.replaceAll(/[.*+?^${}()|[\]\\]/g, '\\$&')])); // prettier-ignore
      return await counted<PlaywrightReport>(name, readPlaywright, command, {
        BASE_URL: addressOf(port),
        EMPTY_URL: addressOf(emptyPort),
        BROWSER_DATABASE_URL: url,
        PLAYWRIGHT_JSON_OUTPUT_NAME: report(name),
        PLAYWRIGHT_OUTPUT: join(RUN_DIR, name),
      });
    } finally {
      await Promise.all([stopServer(server), stopServer(emptyServer)]);
    }
  };

/** The script that makes the pictures of the documents: on a small demo, to a folder of its own. */
const pictures =
  ({ files, title }: Asked) =>
  async (): Promise<Tally> => {
    if (files.length > 0 || title !== undefined) return { passed: 0, failed: 0 };
    await testCluster();
    const url = await testDatabase('signal_post_pictures', { visitors: TEST_VISITORS });
    const port = await freePort(4690);
    const server = await startServer(url, port, { quiet: true, env: PATIENT });
    const to = join(RUN_DIR, 'pictures');
    rmSync(to, { recursive: true, force: true });
    try {
      const tally = await counted<PlaywrightReport>('pictures', readPlaywright, bin('@playwright/test/cli.js', 'test', '--config', 'tests/screenshots.config.ts'), {
        BASE_URL: addressOf(port),
        PICTURES_TO: to,
        PLAYWRIGHT_JSON_OUTPUT_NAME: report('pictures'),
        PLAYWRIGHT_OUTPUT: join(RUN_DIR, 'pictures-failed'),
      }); // prettier-ignore
      const [made, kept] = [existsSync(to) ? readdirSync(to).sort() : [], readdirSync(join(ROOT, 'docs/screenshots')).sort()];
      const why = `docs/screenshots has ${kept.join(', ')}; the script makes ${made.join(', ')}; again: ./signal-post screenshots`;
      return tally.failed > 0 || made.join() === kept.join() ? tally : { ...tally, failed: 1, why: [why] };
    } finally {
      await stopServer(server);
    }
  };

/** What a run of benchmarks says about those that cannot run; empty where it ended before it said anything. */
const brokenOf = (out: string): string => {
  const from = out.indexOf('Cannot run: ');
  return from < 0 ? '' : out.slice(from, from + 4000);
};

/** Every benchmark in its short form: what it asserts holds, and it runs at all. */
const benches = async (): Promise<Tally> => {
  const url = new URL(await testCluster());
  await testDatabase('signal_post_bench', 'bare');
  url.pathname = '/signal_post_bench';
  const args = [MEMORY, '--expose-gc', '--import', 'tsx', 'bench/main.ts'];
  const r = await runBeside(process.execPath, args, { ...process.env, BENCH_SHORT: '1', BENCH_DATABASE_URL: url.toString() }, join(RUN_DIR, 'log-benches.txt')); // prettier-ignore
  const ran = Number(/^(\d+) benchmarks ran$/m.exec(r.out)?.[1] ?? 0);
  return r.ok && ran > 0 ? { passed: ran, failed: 0 } : { passed: 0, failed: 1, why: [`A benchmark cannot run; again: ./signal-post bench --short\n${brokenOf(r.out) || r.out.slice(-4000)}`] }; // prettier-ignore
};

interface Step {
  readonly name: string;
  /** The word after `--only` that chooses it, where that is another. */
  readonly of?: string;
  readonly after?: readonly string[];
  readonly work: () => Promise<Tally>;
  /** It waits for others more than it computes, and takes no place. */
  readonly free?: true;
}

const steps = (asked: Asked): readonly Step[] => [
  { name: 'packages', free: true, work: async () => ({ passed: 0, failed: Number(!(await installPackages())) }) },
  // Types that the framework makes, which all that look at types need.
  { name: 'sync', work: whole(bin('astro/astro.js', 'sync')) },
  { name: 'build', after: ['sync'], work: buildApplication },
  { name: 'types', after: ['sync'], work: whole(native('--noEmit', '-p', 'tsconfig.json')) },
  { name: 'core-types', of: 'types', work: whole(native('--noEmit', '-p', 'tsconfig.core.json')) },
  { name: 'lint', after: ['sync'], work: whole(bin('oxlint/bin/oxlint', '--type-aware', '--deny-warnings', 'src', 'packages', 'ops', 'bench', 'tests')) },
  { name: 'rules', work: whole(bin('dependency-cruiser/bin/dependency-cruise.mjs', '--output-type', 'err', 'src')) },
  { name: 'processes', of: 'unit', after: ['build', 'packages'], work: vitest('processes', asked, '--project', 'processes', '--maxWorkers', '2') },
  { name: 'browser-2', of: 'browser', after: ['build', 'packages'], work: browser(1, asked) },
  { name: 'unit-1', of: 'unit', after: ['build', 'packages'], work: vitest('unit-1', asked, '--project', 'alone', '--maxWorkers', '1', '--shard', '1/2') },
  { name: 'browser-1', of: 'browser', after: ['build', 'packages'], work: browser(0, asked) },
  { name: 'pictures', of: 'browser', after: ['build', 'packages'], work: pictures(asked) },
  { name: 'unit-2', of: 'unit', after: ['build', 'packages'], work: vitest('unit-2', asked, '--project', 'alone', '--maxWorkers', '1', '--shard', '2/2') },
  { name: 'benches', after: ['build', 'packages'], work: benches },
  { name: 'format', work: whole(bin('oxfmt/bin/oxfmt', '--check', '.')) },
  { name: 'astro-format', of: 'format', work: whole(bin('prettier/bin/prettier.cjs', '--check', '--log-level', 'warn', 'src/**/*.astro')) },
  { name: 'astro-types', of: 'types', after: ['sync'], work: whole([process.execPath, ['--import', 'tsx', 'ops/check-astro.ts']]) },
  { name: 'unused', work: whole(bin('knip/bin/knip.js', '--exclude', 'types')) },
]; // prettier-ignore

const PLACES = 2;

/** Runs steps, as many at a time as there are places, each as soon as those that it comes after have passed. */
export const runSteps = async (all: readonly Step[], tell: (step: Step, tally: Tally, seconds: number) => void): Promise<void> => {
  const waiting = [...all];
  const names = new Set(all.map((s) => s.name));
  const passed = new Set<string>();
  const running = new Map<Step, Promise<void>>();
  const isReady = (s: Step): boolean => (s.after ?? []).every((a) => !names.has(a) || passed.has(a));
  for (;;) {
    const taken = (): number => [...running.keys()].filter((s) => !s.free).length;
    for (const s of [...waiting]) {
      if (!isReady(s) || (!s.free && taken() >= PLACES)) continue;
      waiting.splice(waiting.indexOf(s), 1);
      const began = performance.now();
      const work = s.work().catch((e: unknown): Tally => ({ passed: 0, failed: 1, why: [e instanceof Error ? (e.stack ?? e.message) : String(e)] })); // prettier-ignore
      running.set(
        s,
        work.then((tally) => {
          running.delete(s);
          if (tally.failed === 0) passed.add(s.name);
          tell(s, tally, (performance.now() - began) / 1000);
        }),
      );
    }
    if (running.size === 0) break;
    await Promise.race(running.values());
  }
  for (const s of waiting)
    tell(s, { passed: 0, failed: 1, why: [`${s.name} did not run, since ${(s.after ?? []).filter((a) => !passed.has(a)).join(' and ')} failed.`] }, 0); // prettier-ignore
};

/** So many seconds of one core are given to the tests that a change reaches. */
const REACHED_S = 110;
const UNKNOWN_S = 1;

/** The tests that a change reaches, nearest first, up to the time that there is; how many were left out. */
const reached = (changed: readonly string[]): { readonly files: string[]; readonly left: string[] } => {
  const took = new Map<string, number>();
  for (const name of ['unit-1', 'unit-2'])
    if (existsSync(report(name)))
      for (const f of (JSON.parse(readFileSync(report(name), 'utf8')) as VitestReport).testResults)
        took.set(f.name, (f.endTime - f.startTime) / 1000);
  const files: string[] = [];
  const left: string[] = [];
  let sum = 0;
  for (const [file] of testsReached(changed)) {
    if (/^tests\/(server|db|ops)\//.test(file) && !changed.includes(file)) continue;
    sum += took.get(join(process.cwd(), file)) ?? UNKNOWN_S;
    (sum <= REACHED_S ? files : left).push(file);
  }
  return { files, left };
};

const changedSteps = (): readonly Step[] => {
  const changed = changedFiles();
  const { files, left } = reached(changed);
  say(`${changed.length} files changed; ${files.length} test files are reached and run.`);
  if (left.length > 0) say(`Not run, for lack of time: ${left.length} test files further off, from ${left[0]!} on.`);
  say('Not run: processes, browser and build, which ./signal-post test runs.');
  const all = steps({ files, title: undefined });
  const pick = (name: string): Step => all.find((s) => s.name === name)!;
  return [
    pick('types'),
    ...(files.length > 0 ? [{ name: 'reached', work: vitest('reached', { files, title: undefined }, '--maxWorkers', '1') }] : []),
    pick('rules'),
    pick('lint'),
    ...(changed.length > 0 ? [{ name: 'format', work: whole(bin('oxfmt/bin/oxfmt', '--check', '--no-error-on-unmatched-pattern', ...changed)) }] : []), // prettier-ignore
    pick('core-types'),
  ].map((s) => ({ ...s, after: [] }));
};

/** Runs the steps, or those named after `--only`; whether all passed. */
export const runTests = async (args: readonly string[]): Promise<boolean> => {
  const { values, positionals } = parseArgs({
    args: [...args],
    allowPositionals: true,
    options: {
      only: { type: 'string' },
      title: { type: 'string', short: 't' },
      changed: { type: 'boolean' },
      deep: { type: 'boolean' },
    },
  });
  if (values.deep) process.env['SIGNAL_POST_DEEP'] = '1';
  const asked: Asked = { files: positionals, title: values.title };
  let chosen = values.changed ? changedSteps() : steps(asked);
  if (values.only !== undefined) {
    const only = new Set(values.only.split(','));
    const words = new Set(chosen.flatMap((s) => [s.name, s.of ?? s.name]));
    for (const word of only) if (!words.has(word)) throw new Trouble(`There is no step “${word}”; there are ${[...words].join(', ')}.`);
    chosen = chosen.filter(
      (s) => only.has(s.name) || only.has(s.of ?? '') || (s.name === 'packages' && (only.has('unit') || only.has('browser'))),
    );
    // On a clean clone the framework's types are not there yet.
    const sync = steps(asked).find((x) => x.name === 'sync')!;
    if (!chosen.some((x) => x.name === 'sync') && chosen.some((x) => x.after?.includes('sync'))) chosen = [sync, ...chosen];
  }
  // A file is looked for in all parts of a step; those that have it not run nothing.
  const isPart = asked.files.length > 0 || asked.title !== undefined;
  mkdirSync(RUN_DIR, { recursive: true });
  ensurePackages('postgresql');
  const began = performance.now();
  const total: Tally = { passed: 0, failed: 0 };
  const failures: string[] = [];
  const why: string[] = [];
  await runSteps(chosen, (step, tally, seconds) => {
    // Whatever else failed is a failure, also where nobody says why.
    const ranNone = tally.passed === 0 && tally.why?.length === 1 && tally.why[0]!.includes('ran no test');
    const failed = isPart && ranNone ? 0 : tally.failed;
    total.passed += tally.passed;
    total.failed += failed;
    if (failed > 0) {
      why.push(...(tally.why ?? []));
      failures.push(step.name);
    }
    say(`${failed > 0 ? 'FAILED' : 'passed'}  ${step.name} (${tally.passed} passed, ${failed} failed) in ${Math.round(seconds)} s`);
  });
  if (cluster) stopCluster('postgres-test');
  for (const w of why) say(w);
  if (failures.length > 0) say(`Failed: ${failures.join(', ')}. Run one again with ./signal-post test --only NAME`);
  if (total.passed + total.failed === 0) say('No test was found.');
  say(`All in ${Math.round((performance.now() - began) / 1000)} s`);
  say(`${total.passed} passed, ${total.failed} failed`);
  return total.failed === 0 && total.passed > 0;
};
