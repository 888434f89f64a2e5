/** A server that ends by itself is started again, after pauses that grow, until it is told to stop. */
import { spawn, type ChildProcess } from 'node:child_process';
import { expect, test } from 'vitest';
import { stopServer, supervised, type Clock } from '../../ops/serve';

const running = new Set<ChildProcess>();
const process_ = (code: string): ChildProcess => {
  const child = spawn(process.execPath, ['-e', code], { stdio: 'ignore' });
  running.add(child);
  child.once('exit', () => running.delete(child));
  return child;
};
/** A clock that is set on by each wait, and by nothing else. */
const clock = (): Clock => {
  let at = 0;
  return { now: () => at, wait: async (ms) => void (at += ms) };
};
const STAYS = 'setInterval(() => undefined, 1000)';

test('it comes back each time, says so, waits longer each time, and no start fails for good', async () => {
  const told: string[] = [];
  const stop = new AbortController();
  let starts = 0;
  const done = supervised(
    process_('process.exit(3)'),
    () => {
      starts++;
      if (starts === 2) return Promise.reject(new Error('the port is taken'));
      if (starts < 4) return Promise.resolve(process_('process.exit(1)'));
      stop.abort();
      return Promise.resolve(process_(STAYS));
    },
    (text) => told.push(text),
    stop.signal,
    clock(),
  );
  await done;
  expect(starts).toBe(4);
  expect(told.filter((t) => t.includes('is back'))).toHaveLength(3);
  const pauses = told.flatMap((t) => /again in ([\d.]+) s/.exec(t)?.[1] ?? []).map(Number);
  expect(pauses).toEqual([0.25, 0.5, 1, 2]);
  expect(told[0]).toContain('ended (code 3)');
  expect(told.some((t) => t.includes('did not start'))).toBe(true);
  for (const child of running) child.kill('SIGKILL');
});

test('one that was well for more than a minute is started again after a short pause, however often it ended before', async () => {
  const stop = new AbortController();
  const waits: number[] = [];
  // How long each lives by this clock: it is asked when one begins, and when it has ended.
  const lives = [0, 0, 0, 60_001, 0, 60_000, 0];
  let asked = 0;
  await supervised(
    process_('process.exit(1)'),
    () => {
      if (waits.length === lives.length) stop.abort();
      return Promise.resolve(process_('process.exit(1)'));
    },
    () => undefined,
    stop.signal,
    { now: () => (asked++ % 2 === 0 ? 0 : lives[(asked >> 1) - 1]!), wait: async (ms) => void waits.push(ms) },
  );
  expect(waits).toEqual([250, 500, 1000, 250, 500, 1000, 2000]);
  for (const child of running) child.kill('SIGKILL');
});

test('a signal that kills it is named; told to stop, nothing is started any more', async () => {
  const told: string[] = [];
  const stop = new AbortController();
  const first = process_(STAYS);
  let starts = 0;
  const done = supervised(
    first,
    () => {
      starts++;
      return Promise.resolve(process_(STAYS));
    },
    (text) => {
      told.push(text);
      stop.abort();
    },
    stop.signal,
    clock(),
  );
  first.kill('SIGKILL');
  await done;
  expect(told).toEqual(['The server ended (SIGKILL); it is started again in 0.25 s.']);
  expect(starts).toBe(0);
});

test('while it runs, to be told to stop is enough', async () => {
  const stop = new AbortController();
  const first = process_(STAYS);
  const done = supervised(
    first,
    () => Promise.reject(new Error('never')),
    () => undefined,
    stop.signal,
  );
  stop.abort();
  await done;
  expect(first.exitCode).toBeNull();
  first.kill('SIGKILL');
});

test('who ends a server goes on when it is gone, also where it does not listen', async () => {
  const deaf = spawn(process.execPath, [
    '-e',
    `process.on('SIGTERM', () => undefined); setInterval(() => undefined, 1000); console.log('up')`,
  ]);
  await new Promise((up) => deaf.stdout.once('data', up));
  await stopServer(deaf, 1);
  expect(deaf.signalCode).toBe('SIGKILL');
  // Again is no wait for what has happened already.
  await stopServer(deaf, 1);
});
