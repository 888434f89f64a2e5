/** The built application as a process of its own. */
import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { freePort } from '../../ops/shell';

export interface Running {
  readonly child: ChildProcess;
  readonly url: string;
}

/** Flags of a process that can be asked what it holds. */
export const TELLS_MEMORY: readonly string[] = ['--expose-gc', '--import', './tests/server/tells-memory.mjs'];

/** `flags` are Node.js's own; `more` goes into its environment. */
export const startProcess = async (
  databaseUrl: string,
  from: number,
  flags: readonly string[] = [],
  more: Readonly<Record<string, string>> = {},
): Promise<Running> => {
  const port = await freePort(from);
  const child = spawn(process.execPath, [...flags, 'server.mjs'], {
    stdio: [
      ...Array<'inherit' | 'ignore'>(3).fill(process.env['LOUD'] ? 'inherit' : 'ignore'),
      ...(flags === TELLS_MEMORY ? (['ipc'] as const) : []),
    ],
    env: { ...process.env, HOST: '127.0.0.1', PORT: String(port), DATABASE_URL: databaseUrl, ...more },
  });
  const url = `http://127.0.0.1:${port}`;
  // A machine that has much else to do takes its time; a server that has ended will never answer.
  for (let i = 0; i < 600 && child.exitCode === null; i++) {
    if ((await fetch(`${url}/api/health`).catch(() => undefined))?.ok) return { child, url };
    await new Promise((next) => setTimeout(next, 100));
  }
  throw new Error(
    child.exitCode === null ? 'the server does not answer; is the application built?' : `the server ended with ${child.exitCode}`,
  );
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

const LOOK_MS = 400;

/** The most that a process holds while something is done, beyond what it held before, in MB. What it has of the machine would say how
 *  seldom garbage is collected on a busy one.
 */
export const heldMoreDuring = async (server: Running, work: () => Promise<unknown>): Promise<number> => {
  const before = (await heldBy(server)).held;
  let max = before;
  let over = false;
  const watching = (async () => {
    do {
      max = Math.max(max, (await heldBy(server)).held);
      await new Promise((next) => setTimeout(next, LOOK_MS));
    } while (!over);
  })();
  try {
    await work();
  } finally {
    over = true;
    await watching;
  }
  return Math.max(max, (await heldBy(server)).held) - before;
};
