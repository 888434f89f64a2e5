/** Processes that start at the same moment on a fresh database do not stand in each other's way. */
import { expect, test } from 'vitest';
import { prepareEmpty } from '../../ops/prepare';
import { freshTestDatabase } from './database';
import { endProcess, startProcess } from './process';
import { smallWorkspace } from './small-workspace';

test('three at once: each answers its first view', async () => {
  const url = await freshTestDatabase('at_once_test');
  await prepareEmpty(url);
  const all = await Promise.all([5210, 5230, 5250].map((port) => startProcess(url, port)));
  try {
    await smallWorkspace(all[0]!.url);
    const answers = await Promise.all(all.map(async (p) => (await fetch(`${p.url}/api/findings`)).status));
    expect(answers).toEqual([200, 200, 200]);
  } finally {
    await Promise.all(all.map((p) => endProcess(p, 'SIGTERM')));
  }
}, 90_000);
