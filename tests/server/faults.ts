/** Server and PostgreSQL are ended at random while messages, edits, publishes and proposals come in. */
import { spawnSync } from 'node:child_process';
import pg from 'pg';
import { freshDatabase, startCluster, stopCluster } from '../../ops/postgres';
import { prepareEmpty } from '../../ops/prepare';
import { pause } from '../../ops/shell';
import { blank } from '../../src/core/plan/defaults';
import { seeded } from '../../src/demo/random';
import { endProcess, startProcess } from '../build/server';
import { smallWorkspace } from '../build/workspace';

const CLUSTER = 'postgres-faults';

const ENOUGH = 500;
const ENOUGH_EDITS = 10;

export interface Faults {
  readonly kills: number;
  readonly restarts: number;
  readonly seed: number;
  readonly onProgress?: (text: string) => void;
}

export interface AfterFaults {
  readonly messages: number;
  readonly edits: number;
  /** Acknowledged and not there. */
  readonly lost: number;
  readonly editsLost: number;
  /** There more than once. */
  readonly twice: number;
  /** The longest until the server was ready after PostgreSQL was back, in ms. */
  readonly slowestMs: number;
  /** So often the server ended because PostgreSQL did. */
  readonly died: number;
}

/** On a cluster of its own, which is stopped in the end. */
export const endAtRandom = async ({ kills: wantedKills, restarts: wantedRestarts, seed, onProgress }: Faults): Promise<AfterFaults> => {
  const r = seeded(seed);
  const url = await freshDatabase(await startCluster(CLUSTER), 'signal_post_faults');
  await prepareEmpty(url);
  let server = await startProcess(url);
  const key = await smallWorkspace(server.url);
  const accepted = new Set<string>();
  const edited = new Set<string>();
  let over = false;
  let n = 0;
  const call = async (path: string, body: unknown, headers: Record<string, string> = {}): Promise<boolean> => {
    try {
      const response = await fetch(server.url + path, {
        method: 'POST',
        headers: { 'content-type': 'application/json', ...headers },
        body: JSON.stringify(body),
        signal: AbortSignal.timeout(10_000),
      });
      await response.text();
      return response.ok;
    } catch {
      return false;
    }
  };
  const senders = Array.from({ length: 4 }, async () => {
    while (!over) {
      const batch = Array.from({ length: 25 }, () => ({
        id: `m-${n++}`,
        name: 'Parcel Posted',
        time: new Date().toISOString(),
        ids: { visitor: `v-${n % 50}` },
        properties: { code: 'a' },
        release: '1',
      }));
      // What was not acknowledged is sent again, as a good client does.
      for (let tries = 0; tries < 3 && !over; tries++) {
        if (await call('/intake', batch, { authorization: `Bearer ${key}` })) {
          for (const m of batch) accepted.add(m.id);
          break;
        }
        await pause(50);
      }
    }
  });
  const editor = (async () => {
    for (let i = 0; !over; i++) {
      const id = `p-${i}`;
      const edits = [{ op: 'create', kind: 'property', id, body: blank('property', { name: `made ${i}` }) }];
      if (await call('/api/edits', { edits, label: id, author: 'Ines' })) edited.add(id);
      if (i % 10 === 9) await call('/api/publish', { note: `after ${i}` });
      if (i % 15 === 14) await call('/api/proposals', { name: `proposal ${i}`, author: 'Ravi' });
      await pause(20);
    }
  })();
  let slowest = 0;
  let died = 0;
  let [kills, restarts] = [0, 0];
  while (kills < wantedKills || restarts < wantedRestarts) {
    await pause(100 + r.int(0, 400));
    if (kills < wantedKills && (restarts >= wantedRestarts || r.next() < wantedKills / (wantedKills + wantedRestarts))) {
      kills++;
      await endProcess(server, 'SIGKILL');
      server = await startProcess(url);
    } else {
      restarts++;
      const how = r.pick(['fast', 'immediate']);
      if (how === 'fast') stopCluster(CLUSTER);
      else spawnSync('pkill', ['-9', '-f', `${CLUSTER}/data`]);
      await startCluster(CLUSTER);
      const from = Date.now();
      while (Date.now() - from < 30_000) {
        if (server.child.exitCode !== null || server.child.signalCode !== null) {
          died++;
          server = await startProcess(url);
        }
        if (
          await fetch(`${server.url}/api/health`, { signal: AbortSignal.timeout(3000) }).then(
            (x) => x.ok,
            () => false,
          )
        )
          break;
        await pause(50);
      }
      slowest = Math.max(slowest, Date.now() - from);
    }
    if ((kills + restarts) % 10 === 0) onProgress?.(`${kills} kills of the server, ${restarts} of PostgreSQL; ${accepted.size} messages`);
  }
  // However slow the machine was meanwhile, there is enough to look at.
  while (accepted.size < ENOUGH || edited.size < ENOUGH_EDITS) await pause(50);
  over = true;
  await Promise.all([...senders, editor]);
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  const { rows } = await client.query<{ id: string; n: string }>('select message_id as id, count(*) as n from messages group by 1');
  const there = new Map(rows.map((x) => [x.id, Number(x.n)]));
  const lost = [...accepted].filter((id) => !there.has(id)).length;
  const twice = rows.filter((x) => Number(x.n) > 1).length;
  const plan = await client.query<{ id: string }>(`select id from plan_entities where kind = 'property'`);
  const properties = new Set(plan.rows.map((x) => x.id));
  const editsLost = [...edited].filter((id) => !properties.has(id)).length;
  await client.end();
  await endProcess(server, 'SIGTERM');
  stopCluster(CLUSTER);
  return { messages: accepted.size, edits: edited.size, lost, editsLost, twice, slowestMs: slowest, died };
};
