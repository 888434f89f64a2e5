/** Thousands of requests drawn at random: each has an answer, none is an error of ours, and the server stays. The long form: ./signal-post bench fuzz. */
import { expect, test } from 'vitest';
import { testDatabase } from '../build/database';
import { fuzz } from './fuzz';
import { endProcess, startProcess } from '../build/server';
import { smallWorkspace } from '../build/workspace';
import { draws } from '../build/draws';

const REQUESTS = draws(800, 3000);

test(`${REQUESTS} requests over all endpoints`, async () => {
  const url = await testDatabase('fuzz_test', 'empty');
  const server = await startProcess(url);
  try {
    const key = await smallWorkspace(server.url);
    const { byStatus, failed, requests } = await fuzz(server.url, key, REQUESTS, 20261128);
    expect(failed).toEqual([]);
    expect(requests).toBeGreaterThanOrEqual(REQUESTS);
    // It got in, too.
    expect(byStatus[200]).toBeGreaterThan(REQUESTS / 10);
    expect([server.child.exitCode, server.child.signalCode]).toEqual([null, null]);
    expect((await fetch(`${server.url}/api/health`)).status).toBe(200);
  } finally {
    await endProcess(server, 'SIGTERM');
  }
});
