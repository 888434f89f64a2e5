/** Processes that start at the same moment on a fresh database do not stand in each other's way. */
import { expect, test } from 'vitest';
import { testDatabase } from '../build/database';
import { endProcess, startProcess } from '../build/server';
import { smallWorkspace } from '../build/workspace';

test('three at once: each answers its first view', async () => {
  const url = await testDatabase('at_once_test', 'empty');
  const all = await Promise.all([0, 1, 2].map(() => startProcess(url)));
  try {
    await smallWorkspace(all[0]!.url);
    const answers = await Promise.all(all.map(async (p) => (await fetch(`${p.url}/api/findings`)).status));
    expect(answers).toEqual([200, 200, 200]);
  } finally {
    await Promise.all(all.map((p) => endProcess(p, 'SIGTERM')));
  }
});
