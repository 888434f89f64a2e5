/** A server that ends by itself is started again, after pauses that grow, until it is told to stop. */
import { spawn, type ChildProcess } from 'node:child_process';
import { expect, test } from 'vitest';
import { supervised } from '../../ops/serve';

const running = new Set<ChildProcess>();
const process_ = (code: string): ChildProcess => {
  const child = spawn(process.execPath, ['-e', code], { stdio: 'ignore' });
  running.add(child);
  child.once('exit', () => running.delete(child));
  return child;
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
      setTimeout(() => stop.abort(), 200);
      return Promise.resolve(process_(STAYS));
    },
    (text) => told.push(text),
    stop.signal,
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
  );
  first.kill('SIGKILL');
  await done;
  expect(told).toEqual(['The server ended (SIGKILL); it is started again in 0.25 s.']);
  expect(starts).toBe(0);
});

test('while it runs, to be told to stop is enough', async () => {
  const stop = new AbortController();
  const first = process_(STAYS);
  setTimeout(() => stop.abort(), 50);
  await supervised(
    first,
    () => Promise.reject(new Error('never')),
    () => undefined,
    stop.signal,
  );
  expect(first.exitCode).toBeNull();
  first.kill('SIGKILL');
});
