/** ./signal-post start through what can happen to it: called twice, killed, a taken port, a half-made cluster, Ctrl-C. */
import { spawn, type ChildProcess } from 'node:child_process';
import { chmodSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { until } from '../build/wait';
import { anyPort } from '../build/server';

const dir = mkdtempSync(join(tmpdir(), 'signal-post-ops-'));
const runDir = join(dir, 'run');
let port: number;

interface Called {
  readonly child: ChildProcess;
  readonly said: () => string;
  readonly ended: Promise<number | null>;
}

const call = (...args: string[]): Called => {
  const env = Object.fromEntries(Object.entries(process.env).filter(([name]) => name !== 'DATABASE_URL'));
  const child = spawn(process.execPath, ['--import', 'tsx', 'ops/main.ts', ...args], {
    stdio: ['ignore', 'pipe', 'pipe'],
    env: { ...env, SIGNAL_POST_RUN_DIR: runDir, PORT: String(port) },
  });
  let said = '';
  child.stdout.on('data', (d: Buffer) => (said += d.toString()));
  child.stderr.on('data', (d: Buffer) => (said += d.toString()));
  return { child, said: () => said, ended: new Promise((done) => child.once('exit', done)) };
};

const started = async (c: Called): Promise<string> => {
  await until('server', () => c.said().includes('Stop it with Ctrl-C.') || c.child.exitCode !== null);
  const address = /Signal Post is at (\S+)/.exec(c.said())?.[1];
  if (!address) throw new Error(c.said());
  return address;
};
const healthy = async (address: string): Promise<boolean> => (await fetch(`${address}/api/health`).catch(() => undefined))?.ok ?? false;
const clusterPid = (): number => Number(readFileSync(join(runDir, 'postgres', 'data', 'postmaster.pid'), 'utf8').split('\n')[0]);

beforeAll(async () => {
  chmodSync(dir, 0o755);
  port = await anyPort();
});
afterAll(async () => {
  await call('reset').ended;
  rmSync(dir, { recursive: true, force: true });
});

test('from a half-made cluster to a server; twice changes nothing; Ctrl-C ends all of it', async () => {
  mkdirSync(join(runDir, 'postgres', 'data', 'base'), { recursive: true });
  writeFileSync(join(runDir, 'postgres', 'data', 'PG_VERSION'), '15\n');
  writeFileSync(
    join(runDir, 'postgres.json'),
    JSON.stringify({ name: 'postgres', directory: join(runDir, 'postgres'), port: 54_610, password: 'x' }),
  );
  const first = call('start');
  const address = await started(first);
  expect(await healthy(address)).toBe(true);

  const second = call('start');
  expect(await second.ended).toBe(0);
  expect(second.said()).toContain(`already runs (start) at ${address}`);

  expect(clusterPid()).toBeGreaterThan(0);
  first.child.kill('SIGINT');
  expect(await first.ended).toBe(0);
  expect(await healthy(address)).toBe(false);
  // PostgreSQL takes its note away as the last thing of an orderly stop.
  expect(existsSync(join(runDir, 'postgres', 'data', 'postmaster.pid'))).toBe(false);
  expect(existsSync(join(runDir, 'server.json'))).toBe(false);
});

test('killed outright: the server goes too, the stale note is thrown away, and the next start works on the same data', async () => {
  const first = call('start');
  const address = await started(first);
  const edit = { op: 'create', kind: 'sharedSet', id: 'kept', body: { name: 'kept', description: '', properties: [] } };
  expect(
    (
      await fetch(`${address}/api/edits`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ edits: [edit] }),
      })
    ).status,
  ).toBe(200);
  first.child.kill('SIGKILL');
  await first.ended;
  await until('end of the server', async () => !(await healthy(address)));
  expect(existsSync(join(runDir, 'server.json'))).toBe(true);

  // Somebody else took the port meanwhile, and the database was killed as well.
  const taker = createServer().listen(port, '127.0.0.1');
  process.kill(clusterPid(), 'SIGKILL');
  const next = call('start');
  const other = await started(next);
  expect(next.said()).toContain(`Port ${port} is in use`);
  expect(other).not.toBe(address);
  const { plan } = (await (await fetch(`${other}/api/workplace`)).json()) as { plan: { sharedSet: Record<string, unknown> } };
  expect(Object.keys(plan.sharedSet)).toEqual(['kept']);
  expect(await call('stop').ended).toBe(0);
  expect(await next.ended).toBe(0);
  taker.close();
});

test('an unknown command says how to use it and fails; the doctor says what is there', async () => {
  const unknown = call('dance');
  expect(await unknown.ended).toBe(2);
  expect(unknown.said()).toContain('Usage: ./signal-post COMMAND');
  const doctor = call('doctor');
  await doctor.ended;
  expect(doctor.said()).toMatch(/well\s+PostgreSQL/);
  expect(doctor.said()).toContain('no server of this checkout answers');
});
