/** Thousands of requests drawn at random: each has an answer, none is an error of ours, and the server stays. The long form: ./signal-post bench fuzz. */
import { expect, test } from 'vitest';
import { prepareEmpty } from '../../ops/prepare';
import { freshTestDatabase } from './database';
import { fuzz } from './fuzz';
import { endProcess, startProcess } from './process';
import { smallWorkspace } from './small-workspace';

test('three thousand requests over all endpoints', async () => {
  const url = await freshTestDatabase('fuzz_test');
  await prepareEmpty(url);
  const server = await startProcess(url, 4990);
  try {
    const key = await smallWorkspace(server.url);
    const { byStatus, failed, requests } = await fuzz(server.url, key, 3000, 20261128);
    expect(failed).toEqual([]);
    expect(requests).toBeGreaterThanOrEqual(3000);
    // It got in, too.
    expect(byStatus[200]).toBeGreaterThan(300);
    expect([server.child.exitCode, server.child.signalCode]).toEqual([null, null]);
    expect((await fetch(`${server.url}/api/health`)).status).toBe(200);
  } finally {
    await endProcess(server, 'SIGTERM');
  }
}, 180_000);
