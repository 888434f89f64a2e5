/** PostgreSQL is started again under a running analysis: it goes on with what it has, and follows what comes afterwards. */
import { afterAll, beforeAll, expect, test } from 'vitest';
import { freshDatabase, startCluster, stopCluster } from '../../ops/postgres';
import { prepareEmpty } from '../../ops/prepare';
import { endProcess, startProcess, type Running } from '../build/server';
import { until } from '../build/wait';
import { smallWorkspace } from '../build/workspace';

const CLUSTER = 'postgres-restart';
let server: Running;
let key = '';
let n = 0;
beforeAll(async () => {
  const url = await freshDatabase(await startCluster(CLUSTER), 'signal_post_restart');
  await prepareEmpty(url);
  server = await startProcess(url);
  key = await smallWorkspace(server.url);
});
afterAll(async () => {
  await endProcess(server, 'SIGTERM');
  stopCluster(CLUSTER);
});

const send = async (): Promise<string> => {
  const id = `m-${++n}`;
  await until('the intake takes it', async () => {
    const r = await fetch(`${server.url}/intake`, {
      method: 'POST',
      headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' },
      body: JSON.stringify([{ id, name: `Nobody Planned ${n}`, time: new Date().toISOString(), ids: { visitor: 'v-1' }, release: '1' }]),
    }).catch(() => undefined);
    await r?.text();
    return r?.ok === true;
  });
  return `Nobody Planned ${n}`;
};
const isFound = (name: string): Promise<unknown> =>
  until(`a finding on ${name}`, async () => {
    const r = await fetch(`${server.url}/api/findings`).catch(() => undefined);
    const text = (await r?.text()) ?? '';
    return r?.ok === true && text.includes(name);
  });

test.each(['fast', 'immediate'] as const)('a restart, %s: the same thread goes on, before and after', async (how) => {
  await isFound(await send());
  stopCluster(CLUSTER, how);
  // Asked while it is away: whatever is answered, it does not end by it.
  for (let i = 0; i < 3; i++) await fetch(`${server.url}/api/findings`).then((r) => r.text(), () => undefined); // prettier-ignore
  await startCluster(CLUSTER);
  await isFound(await send());
  expect(server.log.filter((l) => /the analysis (?:ended|is stuck|met an error)/.test(l))).toEqual([]);
  expect(server.child.exitCode).toBeNull();
});
