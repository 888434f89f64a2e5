/** Draws mutants of the code and tries each against the test files that reach it. The mutants are made by Stryker's instrumenter; its runner is not used, since it sees nothing of
 *  what a test starts as a process of its own: the built application, its threads, the build check. Here a mutant is chosen by an environment variable, which those inherit.
 */
import { cpSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { Instrumenter } from '@stryker-mutator/instrumenter';
import { ensureDatabase, startCluster, WITHOUT_CRASHES } from '../postgres';
import { dropTemplates } from '../../tests/build/database';
import { testsReached } from '../related';
import { ROOT, RUN_DIR, runBeside, say, Trouble } from '../shell';
import type { VitestReport } from '../test-reports';
import { drawn, isTried, type Mutant } from './choose';

const SANDBOX = join(RUN_DIR, 'mutants');
const SEEN = join(RUN_DIR, 'mutants-seen');
const COPIED = ['src', 'packages', 'tests', 'ops', 'bench', 'public', 'docs', 'examples'];
const DEFAULT = ['src/core', 'src/db', 'src/server', 'src/cli', 'packages/sender/src'];
/** A run under a mutant may take so many times as long as without, and this much more, before it counts as stuck. */
const SLOWER = 5;
const MORE_MS = 20_000;
/** Of the files that reach a mutant so many seconds are run, the quickest first. */
const TRIED_S = 150;

const quiet = { isTraceEnabled: () => false, isDebugEnabled: () => false, isInfoEnabled: () => false, isWarnEnabled: () => false, isErrorEnabled: () => false, isFatalEnabled: () => false, trace: () => undefined, debug: () => undefined, info: () => undefined, warn: () => undefined, error: () => undefined, fatal: () => undefined }; // prettier-ignore

const filesIn = (path: string): string[] => {
  if (path.endsWith('.ts')) return [path];
  return readdirSync(join(ROOT, path), { withFileTypes: true }).flatMap((e) =>
    e.isDirectory() ? filesIn(join(path, e.name)) : /\.ts$/.test(e.name) && !/\.d\.ts$/.test(e.name) ? [join(path, e.name)] : [],
  );
};

type Mutate = true | { readonly start: { line: number; column: number }; readonly end: { line: number; column: number } }[];

const instrumented = async (files: ReadonlyMap<string, Mutate>) =>
  new Instrumenter(quiet).instrument(
    [...files].map(([name, mutate]) => ({ name, content: readFileSync(join(ROOT, name), 'utf8'), mutate: mutate as never })),
    // Words that people read are held by other tests, and a text that is compared with has the mutants of its comparison.
    { plugins: null, excludedMutations: ['StringLiteral'], ignorers: [] },
  );

const prepared = async (mutants: readonly Mutant[]): Promise<readonly Mutant[]> => {
  say(`Making ${mutants.length} mutants in ${relative(ROOT, SANDBOX)} ...`);
  rmSync(SANDBOX, { recursive: true, force: true });
  mkdirSync(SANDBOX, { recursive: true });
  for (const path of COPIED) if (existsSync(join(ROOT, path))) cpSync(join(ROOT, path), join(SANDBOX, path), { recursive: true });
  for (const f of readdirSync(ROOT)) if (/\.(json|mjs|ts|cjs|md)$/.test(f) || f === 'signal-post') cpSync(join(ROOT, f), join(SANDBOX, f));
  symlinkSync(join(ROOT, 'node_modules'), join(SANDBOX, 'node_modules'));
  const byFile = new Map<string, Mutant[]>();
  for (const m of mutants) byFile.set(m.file, [...(byFile.get(m.file) ?? []), m]);
  const { files, mutants: made } = await instrumented(new Map([...byFile].map(([file, list]) => [file, list.map((m) => ({ start: m.start, end: m.end }))]))); // prettier-ignore
  for (const f of files) writeFileSync(join(SANDBOX, f.name), f.content);
  // Within the place of one that was drawn others lie; those are not tried.
  return mutants.map((m) => {
    const same = made.find((x) => x.fileName === m.file && x.replacement === m.replacement && x.location.start.line === m.start.line && x.location.start.column === m.start.column && x.location.end.line === m.end.line && x.location.end.column === m.end.column); // prettier-ignore
    if (!same) throw new Trouble(`The mutant of ${m.file}:${m.start.line + 1} could not be made again.`);
    return { ...m, id: same.id };
  });
};

const vitestArgs = (report: string, files: readonly string[]): string[] => ['node_modules/vitest/vitest.mjs', 'run', '--root', SANDBOX, '--reporter=json', `--outputFile=${report}`, ...files]; // prettier-ignore

/** Runs in the sandbox, with so much time. */
const run = async (
  args: string[],
  env: NodeJS.ProcessEnv,
  withinMs: number,
): Promise<{ readonly ok: boolean; readonly late: boolean; readonly out: string }> => {
  const r = await runBeside('timeout', ['-k', '5', String(Math.ceil(withinMs / 1000)), process.execPath, ...args], { ...process.env, ...env }, undefined, SANDBOX); // prettier-ignore
  return { ...r, late: r.code === 124 || r.code === 137 };
};

interface Tests {
  /** Mutant → test files that reach it. */
  readonly reaching: ReadonlyMap<string, ReadonlySet<string>>;
  readonly tookMs: ReadonlyMap<string, number>;
}

/** Where few files are mutated, the tests that are nearest to them; where many are, or what runs in a process of its own, all. */
const NEAR = 60;
const FEW = 12;
const candidates = (mutants: readonly Mutant[]): string[] => {
  const files = [...new Set(mutants.map((m) => m.file))];
  if (files.length > FEW || files.some((f) => /^src\/(db|server)\//.test(f))) return [];
  return testsReached(files).slice(0, NEAR).map(([file]) => file).filter((f) => !/^tests\/(server|db|ops)\//.test(f)); // prettier-ignore
};

/** One run of the tests without any mutant: it must pass, and says which files reach which. */
const reached = async (mutants: readonly Mutant[], env: NodeJS.ProcessEnv): Promise<Tests> => {
  say('One run without any mutant, to see what reaches what ...');
  rmSync(SEEN, { recursive: true, force: true });
  mkdirSync(SEEN, { recursive: true });
  const report = join(SEEN, 'report.json');
  const r = await run(vitestArgs(report, candidates(mutants)), { ...env, MUTANTS_SEEN: SEEN, NODE_OPTIONS: `--import ${join(SANDBOX, 'ops/mutants/seen-in-process.mjs')}` }, 3_600_000); // prettier-ignore
  if (!existsSync(report)) throw new Trouble(`The tests do not run on the sandbox:\n${r.out.slice(-3000)}`);
  const { testResults } = JSON.parse(readFileSync(report, 'utf8')) as VitestReport;
  const failing = testResults.filter((f) => f.assertionResults.some((a) => a.status === 'failed') || f.message);
  for (const f of failing) say(`left out, since it fails without a mutant: ${relative(SANDBOX, f.name)}`);
  const bad = new Set(failing.map((f) => f.name));
  const reaching = new Map<string, Set<string>>(mutants.map((m) => [m.id, new Set()]));
  for (const f of readdirSync(SEEN).filter((x) => x !== 'report.json')) {
    const [file, ids] = JSON.parse(readFileSync(join(SEEN, f), 'utf8')) as [string, string[]];
    if (!bad.has(file)) for (const id of ids) reaching.get(id)?.add(file);
  }
  // What runs while a module is read is seen by the first file alone that reads it: there the imports say who does.
  for (const m of mutants)
    if (reaching.get(m.id)!.size === 0)
      for (const [file] of testsReached([m.file]).slice(0, 12)) if (!bad.has(join(SANDBOX, file))) reaching.get(m.id)!.add(join(SANDBOX, file)); // prettier-ignore
  return { reaching, tookMs: new Map(testResults.map((f) => [f.name, f.endTime - f.startTime])) };
};

type Fate = 'killed' | 'timed out' | 'survived' | 'not reached';

const fateOf = async (m: Mutant, { reaching, tookMs }: Tests, env: NodeJS.ProcessEnv, place: number): Promise<Fate> => {
  const files = [...reaching.get(m.id)!].sort((a, b) => (tookMs.get(a) ?? 0) - (tookMs.get(b) ?? 0));
  if (files.length === 0) return 'not reached';
  // The quickest few first: most are killed by them.
  let from = 0;
  let spent = 0;
  for (const count of [4, 12, 40, 400]) {
    const next: string[] = [];
    for (; from < files.length && next.length < count && spent < TRIED_S * 1000; from++) {
      next.push(files[from]!);
      spent += tookMs.get(files[from]!) ?? 0;
    }
    if (next.length === 0) break;
    const usual = next.reduce((n, f) => n + (tookMs.get(f) ?? 0), 0);
    const r = await run([...vitestArgs(join(SEEN, `try-${place}.json`), next), '--bail', '1'], { ...env, __STRYKER_ACTIVE_MUTANT__: m.id, SIGNAL_POST_WORKERS: '1', SIGNAL_POST_TEST_MS: String(SLOWER * usual + MORE_MS) }, SLOWER * usual + 2 * MORE_MS); // prettier-ignore
    if (r.late) return 'timed out';
    if (!r.ok) return 'killed';
  }
  return 'survived';
};

export const mutate = async (args: readonly string[]): Promise<boolean> => {
  const { values, positionals } = parseArgs({
    args: [...args],
    allowPositionals: true,
    options: { sample: { type: 'string' }, seed: { type: 'string' } },
  });
  const sample = Number(values.sample ?? 600);
  const seed = Number(values.seed ?? 1);
  const files = (positionals.length > 0 ? positionals : DEFAULT).flatMap((p) => filesIn(relative(ROOT, resolve(p)))).filter(isTried);
  const { mutants: all } = await instrumented(new Map(files.map((f) => [f, true])));
  const tried = all.filter((m) => m.status !== 'Ignored');
  const wanted = drawn(tried.map((m) => ({ id: '', file: m.fileName, mutator: m.mutatorName, replacement: m.replacement, start: m.location.start, end: m.location.end })), sample, seed); // prettier-ignore
  say(`${tried.length} mutants in ${files.length} files; ${wanted.length} are drawn, seed ${seed}.`);
  const mutants = await prepared(wanted);
  const cluster = await startCluster('postgres-test', WITHOUT_CRASHES);
  const url = await ensureDatabase(cluster, 'signal_post_test');
  await dropTemplates(url);
  const env = { TEST_DATABASE_URL: url, SIGNAL_POST_RUN_DIR: RUN_DIR };
  // Tests of processes run what is built.
  const built = candidates(mutants).length > 0 ? { ok: true, out: '' } : await run(['node_modules/astro/astro.js', 'build'], env, 600_000);
  if (!built.ok) throw new Trouble(`The mutants do not build:\n${built.out.slice(-3000)}`);
  const tests = await reached(mutants, env);
  const fates = new Map<Mutant, Fate>();
  const queue = [...mutants];
  const began = performance.now();
  const work = async (place: number): Promise<void> => {
    for (let m = queue.shift(); m !== undefined; m = queue.shift()) {
      const fate = await fateOf(m, tests, env, place);
      fates.set(m, fate);
      if (fate === 'survived' || fate === 'not reached')
        say(
          `${fate}  ${m.file}:${m.start.line + 1}:${m.start.column + 1}  ${m.mutator} → ${m.replacement.replaceAll(/\s+/g, ' ').slice(0, 100)}`,
        );
      if (fates.size % 20 === 0) say(`${fates.size} of ${mutants.length} tried in ${Math.round((performance.now() - began) / 1000)} s`);
    }
  };
  await Promise.all([work(0), work(1)]);
  const count = (fate: Fate): number => [...fates.values()].filter((f) => f === fate).length;
  const killed = count('killed') + count('timed out');
  const lines = [...fates].map(([m, fate]) => ({ ...m, fate }));
  mkdirSync(dirname(join(RUN_DIR, 'x')), { recursive: true });
  writeFileSync(
    join(RUN_DIR, 'mutants.json'),
    JSON.stringify({ seed, sample, files: files.length, all: tried.length, fates: lines }, null, 1),
  );
  const places = new Map<string, [number, number]>();
  for (const [m, fate] of fates) {
    const place = m.file.split('/').slice(0, m.file.startsWith('src/core') ? 3 : 2).join('/'); // prettier-ignore
    const [k, n] = places.get(place) ?? [0, 0];
    places.set(place, [k + Number(fate === 'killed' || fate === 'timed out'), n + 1]);
  }
  for (const [place, [k, n]] of [...places].sort(([a], [b]) => (a < b ? -1 : 1)))
    say(`${String(k).padStart(4)} of ${String(n).padStart(4)}  ${place}`);
  say(`${killed} of ${fates.size} killed (${((100 * killed) / fates.size).toFixed(1)} %), ${count('timed out')} of them by time; ${count('survived')} survived, ${count('not reached')} not reached`); // prettier-ignore
  return killed / fates.size >= 0.9;
};
