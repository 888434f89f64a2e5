/** The built application as a process of its own. */
import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { createServer } from 'node:net';
import { createInterface } from 'node:readline';
import { until } from './wait';

export interface Running {
  readonly child: ChildProcess;
  readonly url: string;
  /** Lines of its log, the newest some thousand. */
  readonly log: readonly string[];
}

const MAX_LINES = 4000;
const ERROR_LEVEL = 50;

const levelOf = (line: string): number => {
  try {
    return (JSON.parse(line) as { level?: number }).level ?? 0;
  } catch {
    return 0;
  }
};

/** What its log says of errors that it did not expect, and of promises that nobody waited for. */
export const complaintsOf = ({ log }: Pick<Running, 'log'>): string[] =>
  log.filter((line) => levelOf(line) >= ERROR_LEVEL || /unhandled|uncaught|disturbed or locked/i.test(line));

/** Flags of a process that can be asked what it holds. */
export const TELLS_MEMORY: readonly string[] = ['--expose-gc', '--import', './tests/build/tells-memory.mjs'];

/** A port that nobody listens on; the system gives none twice within a short time. */
export const anyPort = (): Promise<number> =>
  new Promise((done, fail) => {
    const server = createServer();
    server.once('error', fail);
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address() as { port: number };
      server.close(() => done(port));
    });
  });

const TRIES = 3;

/** No pauses between work in the background, and an answer is of all that was acknowledged before it was asked for, however busy the machine: a user is given the one
 *  before after some seconds, with its age.
 */
const PATIENT = { SIGNAL_POST_PAUSES: '0', SIGNAL_POST_PATIENCE_MS: '60000' };

/** Starts the application and waits until it is ready. `flags` are Node.js's own; `more` goes into its environment. */
export const startProcess = async (
  databaseUrl: string,
  flags: readonly string[] = [],
  more: Readonly<Record<string, string>> = {},
): Promise<Running> => {
  for (let i = 0; ; i++) {
    const port = await anyPort();
    const child = spawn(process.execPath, [...flags, 'server.mjs'], {
      stdio: ['ignore', 'pipe', 'pipe', ...(flags === TELLS_MEMORY ? (['ipc'] as const) : [])],
      env: { ...process.env, HOST: '127.0.0.1', PORT: String(port), DATABASE_URL: databaseUrl, ...PATIENT, ...more },
    });
    const log: string[] = [];
    for (const stream of [child.stdout, child.stderr])
      createInterface({ input: stream! }).on('line', (line) => {
        if (process.env['LOUD']) console.log(line);
        if (log.push(line) > MAX_LINES) log.splice(0, MAX_LINES / 2);
      });
    const url = `http://127.0.0.1:${port}`;
    const ended = (): boolean => child.exitCode !== null || child.signalCode !== null;
    const ready = await until('answer of the server', async () => {
      if (ended()) return 'ended';
      return (await fetch(`${url}/api/health`).catch(() => undefined))?.ok ? 'ready' : undefined;
    });
    if (ready === 'ready' && !ended()) return { child, url, log };
    // Somebody else may have taken the port in between.
    if (i + 1 >= TRIES)
      throw new Error(
        `the server ended with ${child.signalCode ?? child.exitCode}; is the application built? It said: ${log.slice(-5).join(' | ')}`,
      );
  }
};

export const endProcess = async ({ child }: Running, signal: NodeJS.Signals): Promise<void> => {
  if (child.exitCode !== null || child.signalCode !== null) return;
  const gone = new Promise((done) => child.once('exit', done));
  child.kill(signal);
  await gone;
};

/** What it holds after all that nobody needs any more was thrown away, and what it has of the machine, in MB. */
export const heldBy = async ({ child }: Running): Promise<{ readonly held: number; readonly rss: number }> => {
  const told = once(child, 'message') as Promise<[{ heapUsed: number; external: number; rss: number }]>;
  child.send('memory');
  const [{ heapUsed, external, rss }] = await told;
  return { held: (heapUsed + external) / 1e6, rss: rss / 1e6 };
};

/** The most that a process holds while something is done, beyond what it held before, in MB: it is asked again and again. What it has of the machine would say
 *  how seldom garbage is collected on a busy one.
 */
export const heldMoreDuring = async (server: Running, work: () => Promise<unknown>): Promise<number> => {
  const before = (await heldBy(server)).held;
  let max = before;
  let over = false;
  const watching = until('end of the work', async () => {
    max = Math.max(max, (await heldBy(server)).held);
    return over;
  });
  try {
    await work();
  } finally {
    over = true;
    await watching;
  }
  return Math.max(max, (await heldBy(server)).held) - before;
};

/** What a server is asked for: `get` gives what it says, and fails with that where it refuses; `post` gives the whole answer. */
export const requestsTo = (server: () => Pick<Running, 'url'>) => ({
  get: async <T>(path: string): Promise<T> => {
    const r = await fetch(server().url + path);
    if (!r.ok) throw new Error(`${path}: ${r.status} ${await r.text()}`);
    return (await r.json()) as T;
  },
  post: (path: string, body: unknown, headers: Readonly<Record<string, string>> = {}): Promise<Response> =>
    fetch(server().url + path, { method: 'POST', headers: { 'content-type': 'application/json', ...headers }, body: JSON.stringify(body) }),
});
