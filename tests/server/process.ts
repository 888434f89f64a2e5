/** The built application as a process of its own. */
import { spawn, type ChildProcess } from 'node:child_process';
import { freePort } from '../../ops/shell';

export interface Running {
  readonly child: ChildProcess;
  readonly url: string;
}

export const startProcess = async (databaseUrl: string, from: number): Promise<Running> => {
  const port = await freePort(from);
  const child = spawn(process.execPath, ['server.mjs'], {
    stdio: process.env['LOUD'] ? 'inherit' : 'ignore',
    env: { ...process.env, HOST: '127.0.0.1', PORT: String(port), DATABASE_URL: databaseUrl },
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
  const gone = new Promise((done) => child.once('exit', done));
  child.kill(signal);
  await gone;
};
