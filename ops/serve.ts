/** Starting, finding and stopping the server. */
import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { freePort, isAlive, pause, ROOT, RUN_DIR, say, Trouble } from './shell';

const FIRST_PORT = 4610;
/** A message lives as long as its group is written. Where the young generation holds that long, it is never carried over to the old one. */
export const MEMORY = '--max-semi-space-size=128';
export const SERVER = [MEMORY, 'server.mjs'] as const;
const STATE = join(RUN_DIR, 'server.json');
/** Of a process that has some of the roles alone; there may be several. */
const statesBeside = (): string[] =>
  existsSync(RUN_DIR)
    ? readdirSync(RUN_DIR)
        .filter((f) => /^server-\d+\.json$/.test(f))
        .map((f) => join(RUN_DIR, f))
    : [];

interface Running {
  readonly pid: number;
  readonly port: number;
  readonly mode: string;
}

export const addressOf = (port: number): string => `http://127.0.0.1:${port}`;

const answers = async (port: number, what: 'alive' | 'health'): Promise<boolean> => {
  try {
    return (await fetch(`${addressOf(port)}/api/${what}`, { signal: AbortSignal.timeout(2000) })).ok;
  } catch {
    return false;
  }
};

const remembered = (state = STATE): Running | undefined => {
  try {
    return JSON.parse(readFileSync(state, 'utf8')) as Running;
  } catch {
    return undefined;
  }
};

/** The server that this checkout started and that answers; a stale note of a killed one is thrown away. */
export const runningServer = async (): Promise<Running | undefined> => {
  const r = remembered();
  if (r && isAlive(r.pid) && (await answers(r.port, 'alive'))) return r;
  if (r && !isAlive(r.pid)) rmSync(STATE, { force: true });
  return undefined;
};

const LOADING_MS = 15_000;

/** Starts the built application and waits until it answers; until it is ready, too, unless that takes long. `tied`: it ends when this process ends, however that comes. */
export const startServer = async (
  databaseUrl: string,
  port: number,
  options: { quiet?: boolean; env?: NodeJS.ProcessEnv } = {},
): Promise<ChildProcess> => {
  const child = spawn(process.execPath, [...SERVER], {
    cwd: ROOT,
    // A group of its own: Ctrl-C reaches this process alone, which then stops things in order.
    detached: true,
    stdio: ['pipe', options.quiet ? 'ignore' : 'inherit', 'inherit'],
    env: { ...process.env, HOST: '127.0.0.1', PORT: String(port), DATABASE_URL: databaseUrl, SIGNAL_POST_TIED: '1', ...options.env },
  });
  for (let i = 0; i < 150; i++) {
    if (child.exitCode !== null) throw new Trouble(`The server ended with code ${child.exitCode}.`);
    if (await answers(port, 'alive')) {
      for (const until = Date.now() + LOADING_MS; Date.now() < until && !(await answers(port, 'health'));) await pause(100);
      return child;
    }
    await pause(100);
  }
  child.kill('SIGKILL');
  throw new Trouble('The server did not answer within 15 seconds.');
};

export const stopServer = async (child: ChildProcess, patienceMs = 8000): Promise<void> => {
  if (child.exitCode !== null || child.signalCode !== null) return;
  const gone = new Promise((done) => child.once('exit', done));
  child.kill('SIGTERM');
  const late = setTimeout(() => child.kill('SIGKILL'), patienceMs);
  await gone;
  clearTimeout(late);
};

const FIRST_PAUSE_MS = 250;
const LONGEST_PAUSE_MS = 30_000;
/** A server that ran for so long is taken to have been well: the next pause is a short one again. */
const WELL_AFTER_MS = 60_000;

export interface Clock {
  /** In ms. */
  now(): number;
  wait(ms: number): Promise<void>;
}

/** Starts a process again whenever it ends by itself, after pauses that grow while it does not stay, and says so each time; until `signal`.
 *  `start` resolves with a process that runs, and may fail.
 */
export const supervised = async (
  first: ChildProcess,
  start: () => Promise<ChildProcess>,
  tell: (text: string) => void,
  signal: AbortSignal,
  { now, wait: pauseFor }: Clock = { now: Date.now, wait: pause },
): Promise<void> => {
  const aborted = new Promise<'stop'>((done) => signal.addEventListener('abort', () => done('stop'), { once: true }));
  let child: ChildProcess | undefined = first;
  let wait = FIRST_PAUSE_MS;
  while (!signal.aborted) {
    const since = now();
    let how = 'did not start';
    if (child) {
      const running = child;
      const ended = new Promise<void>((done) =>
        running.exitCode !== null || running.signalCode !== null ? done() : running.once('exit', () => done()),
      );
      if ((await Promise.race([ended.then(() => 'ended' as const), aborted])) === 'stop') return;
      how = `ended (${running.signalCode ?? `code ${running.exitCode}`})`;
    }
    if (now() - since > WELL_AFTER_MS) wait = FIRST_PAUSE_MS;
    tell(`The server ${how}; it is started again in ${wait / 1000} s.`);
    await Promise.race([pauseFor(wait), aborted]);
    if (signal.aborted) return;
    wait = Math.min(LONGEST_PAUSE_MS, wait * 2);
    child = await start().then(
      (c) => {
        tell('The server is back.');
        return c;
      },
      () => undefined,
    );
  }
};

/** Serves until Ctrl-C or `stop`, then ends the server and whatever else is to be ended. */
export const serve = async (mode: string, databaseUrl: string, after: () => void, isPart = false): Promise<void> => {
  const wanted = Number(process.env['PORT'] ?? FIRST_PORT);
  const port = await freePort(wanted);
  if (port !== wanted) say(`Port ${wanted} is in use; this takes ${port}.`);
  let child = await startServer(databaseUrl, port, { quiet: true });
  mkdirSync(RUN_DIR, { recursive: true });
  const state = isPart ? join(RUN_DIR, `server-${port}.json`) : STATE;
  writeFileSync(state, JSON.stringify({ pid: process.pid, port, mode } satisfies Running));
  say(`\nSignal Post is at ${addressOf(port)}\nStop it with Ctrl-C.`);
  const stopped = new AbortController();
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.once(signal, () => stopped.abort());
  await supervised(
    child,
    async () => (child = await startServer(databaseUrl, port, { quiet: true })),
    (text) => say(text),
    stopped.signal,
  );
  say('Stopping ...');
  await stopServer(child);
  rmSync(state, { force: true });
  after();
};

const stopOf = async (state: string): Promise<boolean> => {
  const r = remembered(state);
  if (!r || !isAlive(r.pid)) {
    rmSync(state, { force: true });
    return false;
  }
  process.kill(r.pid, 'SIGTERM');
  for (let i = 0; i < 150 && isAlive(r.pid); i++) await pause(100);
  return true;
};

/** Stops the servers of this checkout from elsewhere; whether there was one. */
export const stopRunning = async (): Promise<boolean> => (await Promise.all([STATE, ...statesBeside()].map(stopOf))).some(Boolean);
