/** Running commands, and saying what is going on. */
import { spawn, spawnSync } from 'node:child_process';
import { appendFileSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const ROOT = dirname(dirname(fileURLToPath(import.meta.url)));
/** What is kept between calls: the private database, the build's mark, the note of a running server. */
export const RUN_DIR = process.env['SIGNAL_POST_RUN_DIR'] ?? join(ROOT, '.run');

export const say = (text: string): void => console.log(text);

/** A failure that the user can fix; shown without a stack. */
export class Trouble extends Error {}

export const isRoot = (): boolean => process.getuid?.() === 0;

export interface Ran {
  readonly ok: boolean;
  readonly out: string;
}

export const run = (command: string, args: readonly string[], options: { cwd?: string; env?: NodeJS.ProcessEnv } = {}): Ran => {
  const r = spawnSync(command, args, { cwd: ROOT, encoding: 'utf8', maxBuffer: 1 << 28, ...options });
  return { ok: r.status === 0, out: `${r.stdout ?? ''}${r.stderr ?? ''}${r.error ? r.error.message : ''}` };
};

/** Runs beside other work; its output is kept. */
export const runBeside = (
  command: string,
  args: readonly string[],
  env: NodeJS.ProcessEnv = process.env,
  log?: string,
  cwd = ROOT,
): Promise<Ran & { readonly code: number | null }> =>
  new Promise((done) => {
    // What it says can be followed while it goes on.
    if (log !== undefined) writeFileSync(log, '');
    const keep = (part: Buffer): void => {
      out.push(part);
      if (log !== undefined) appendFileSync(log, part);
    };
    const child = spawn(command, args, { cwd, stdio: ['ignore', 'pipe', 'pipe'], env });
    const out: Buffer[] = [];
    child.stdout.on('data', keep);
    child.stderr.on('data', keep);
    child.on('error', (e) => done({ ok: false, code: null, out: e.message }));
    child.on('close', (code) => done({ ok: code === 0, code, out: Buffer.concat(out).toString('utf8') }));
  });

/** Runs with its output shown; whether it succeeded. */
export const show = (command: string, args: readonly string[], env: NodeJS.ProcessEnv = process.env): Promise<boolean> =>
  new Promise((done) => {
    const child = spawn(command, args, { cwd: ROOT, stdio: ['ignore', 'inherit', 'inherit'], env });
    child.on('error', () => done(false));
    child.on('exit', (code) => done(code === 0));
  });

const isFree = (port: number): Promise<boolean> =>
  new Promise((done) => {
    const server = createServer();
    server.once('error', () => done(false));
    server.listen(port, '127.0.0.1', () => server.close(() => done(true)));
  });

/** The first free port from this one on. */
export const freePort = async (from: number): Promise<number> => {
  for (let port = from; port < from + 200; port++) if (await isFree(port)) return port;
  throw new Trouble(`No free port from ${from} to ${from + 199}.`);
};

export const isAlive = (pid: number): boolean => {
  try {
    process.kill(pid, 0);
    return true;
  } catch (e) {
    return (e as NodeJS.ErrnoException).code === 'EPERM';
  }
};

export const pause = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));
