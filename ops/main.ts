/** The commands of ./signal-post. */
import { spawn } from 'node:child_process';
import { parseArgs } from 'node:util';
import { ensureBuild } from './build';
import { doctor } from './doctor';
import { ensureDatabase, removeCluster, startCluster, stopCluster } from './postgres';
import { prepareDemo, prepareEmpty } from './prepare';
import { rolesIn } from '../src/server/roles';
import { addressOf, MEMORY, runningServer, serve, stopRunning } from './serve';
import { freePort, ROOT, say, show, Trouble } from './shell';
import { runTests } from './test';
import { screenshots } from './screenshots';

const USAGE = `Usage: ./signal-post COMMAND

  demo         serve the demo workspace, an invented tool library
  start        serve your own workspace; with --roles web,intake,analysis,jobs some of it alone,
               beside other processes on the same database
  dev          the same, with the sources watched
  test         all tests; --only NAME[,NAME] [FILE …] [-t TITLE] for some, --changed for what the
               change since the last commit reaches, --deep for more draws at random
  mutate       mutants of the code against the tests that reach them ([PATH …], --sample N, --seed N)
  bench        the benchmarks (bench/), or those named; --short for small sizes, without goals
  screenshots  the pictures in docs/screenshots, from the demo
  stop         stop what runs
  doctor       what is missing and how to fix it
  reset        delete the private database, demo included

DATABASE_URL=postgres://… uses that database instead of a private one.`;

const databaseFor = async (mode: 'demo' | 'start'): Promise<string> => {
  const own = process.env['DATABASE_URL'];
  if (own) return own;
  say('Starting PostgreSQL ...');
  return ensureDatabase(await startCluster('postgres'), mode === 'demo' ? 'signal_post_demo' : 'signal_post');
};

const prepare = async (mode: 'demo' | 'start'): Promise<string> => {
  const url = await databaseFor(mode);
  say(mode === 'demo' ? 'Preparing the demo ...' : 'Preparing the database ...');
  await (mode === 'demo' ? prepareDemo(url) : prepareEmpty(url));
  return url;
};

/** The demo's mail ends in its own mailbox, unless a server is named. */
const giveMailbox = async (): Promise<void> => {
  if (process.env['SIGNAL_POST_SMTP'] !== undefined) return;
  const port = await freePort(4625);
  process.env['SIGNAL_POST_MAILBOX'] = String(port);
  process.env['SIGNAL_POST_SMTP'] = `smtp://127.0.0.1:${port}`;
};

/** Serves, with all roles or those that are named. With some of them alone it stands beside other processes, and leaves the database running. */
const start = async (mode: 'demo' | 'start', args: readonly string[]): Promise<void> => {
  const roles = rolesOf(args);
  if (roles !== undefined) {
    ensureBuild();
    const url = await prepare(mode);
    process.env['SIGNAL_POST_ROLES'] = roles;
    return serve(`${mode}, ${roles}`, url, () => undefined, true);
  }
  const running = await runningServer();
  if (running) {
    say(`Signal Post already runs (${running.mode}) at ${addressOf(running.port)}. ./signal-post stop ends it.`);
    return;
  }
  ensureBuild();
  if (mode === 'demo') await giveMailbox();
  const ownCluster = process.env['DATABASE_URL'] === undefined;
  const url = await prepare(mode);
  await serve(mode, url, () => ownCluster && stopCluster('postgres'));
};

/** The roles that are named, as a list with commas. Errors: one that there is not. */
const rolesOf = (args: readonly string[]): string | undefined => {
  try {
    const { values } = parseArgs({ args: [...args], options: { roles: { type: 'string' } } });
    return values.roles === undefined ? undefined : [...rolesIn(values.roles)].join(',');
  } catch (e) {
    throw new Trouble((e as Error).message);
  }
};

const dev = async (): Promise<void> => {
  const url = await prepare('demo');
  const child = spawn(
    process.execPath,
    ['node_modules/astro/astro.js', 'dev', '--host', '127.0.0.1', '--port', process.env['PORT'] ?? '4610'],
    {
      cwd: ROOT,
      stdio: 'inherit',
      env: { ...process.env, DATABASE_URL: url },
    },
  );
  process.on('SIGINT', () => child.kill('SIGTERM'));
  await new Promise((done) => child.once('exit', done));
};

const commands: Record<string, (args: string[]) => Promise<boolean | void>> = {
  demo: (args) => start('demo', args),
  start: (args) => start('start', args),
  dev,
  test: (args) => runTests(args),
  mutate: async (args) => (await import('./mutants/mutate')).mutate(args),
  bench: async (args) => {
    ensureBuild();
    const short = args.includes('--short');
    if (short) process.env['BENCH_SHORT'] = '1';
    const cluster = await startCluster('postgres-bench');
    process.env['BENCH_DATABASE_URL'] = await ensureDatabase(cluster, 'signal_post_bench');
    return show(process.execPath, [MEMORY, '--expose-gc', '--import', 'tsx', 'bench/main.ts', ...args.filter((a) => a !== '--short')]);
  },
  screenshots: () => screenshots(),
  stop: async () => {
    const server = await stopRunning();
    const database = stopCluster('postgres');
    stopCluster('postgres-test');
    stopCluster('postgres-bench');
    say(server || database ? 'Stopped.' : 'Nothing was running.');
  },
  doctor: () => doctor(),
  reset: async () => {
    await stopRunning();
    removeCluster('postgres');
    removeCluster('postgres-test');
    removeCluster('postgres-bench');
    say('The private database is deleted; the next start makes it anew.');
  },
};

const [name = '', ...args] = process.argv.slice(2);
const command = commands[name];
if (!command) {
  say(USAGE);
  process.exit(name === '' || name === 'help' || name === '--help' ? 0 : 2);
}
try {
  process.exit((await command(args)) === false ? 1 : 0);
} catch (e) {
  console.error(e instanceof Trouble ? e.message : e);
  process.exit(1);
}
