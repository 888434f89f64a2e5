/** Many alerts to a receiver that fails half the time, while the server is killed: each arrives, and none has two IDs. And where nothing may be sent to. */
import { createServer } from 'node:http';
import { once } from 'node:events';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { FIRST_RULE } from '../../src/core/alerts/default-rule';
import type { Delivery } from '../../src/core/alerts/delivery';
import type { Happened } from '../../src/core/alerts/happened';
import { watchedNow, type Watched } from '../../src/core/alerts/watched';
import { DEFAULT_SETTINGS } from '../../src/core/plan/defaults';
import { emptyPlan } from '../../src/core/plan/plan';
import { addRule, removeRule } from '../../src/db/alert-rule-store';
import { noteLook } from '../../src/db/alert-store';
import { addDelivery, claimDelivery, deliveries } from '../../src/db/delivery-store';
import { openDatabase, type Database } from '../../src/db/database';
import { seeded } from '../../src/demo/random';
import { testDatabase } from '../build/database';
import { draws } from '../build/draws';
import { endProcess, startProcess, type Running, requestsTo } from '../build/server';
import { until } from '../build/wait';

let url: string;
let database: Database;
let server: Running;
const NOTHING: Watched = watchedNow({ plan: emptyPlan(DEFAULT_SETTINGS), clearances: [], findings: [], followUps: [], intake: [] }, undefined, 0); // prettier-ignore
const ALERTS = draws(300, 1000);
const KILLED_AT = ALERTS / 3;
const happened = (n: number): Happened => ({ kind: 'finding opened', cause: `cause ${n}`, severity: 'stop', says: `Finding ${n}.`, questions: [], events: [], sources: [], owners: [], at: null }); // prettier-ignore

beforeAll(async () => {
  url = await testDatabase('delivery_test', 'empty');
  database = openDatabase(url);
});
afterAll(async () => {
  await endProcess(server, 'SIGKILL');
  await database.pool.end();
});

const { post } = requestsTo(() => server);

test('each of many arrives, none twice under another ID, whatever fails and whoever is killed', async () => {
  const rng = seeded(Number(process.env['DRAWN'] ?? 11));
  /** Text → IDs under which it came and was taken. */
  const taken = new Map<string, Set<string>>();
  const failures = new Map<string, number>();
  let requests = 0;
  let killed = false;
  const receiver = createServer((request, response) => {
    let body = '';
    request.on('data', (piece: Buffer) => (body += piece.toString()));
    request.on('end', () => {
      // From here on nobody has an answer until the process was killed: it is killed in the midst, however fast it is.
      if (++requests > KILLED_AT && !killed) return;
      const id = String(request.headers['webhook-id']);
      const failed = failures.get(id) ?? 0;
      if (failed < 6 && rng.chance(0.5)) {
        failures.set(id, failed + 1);
        response.writeHead(500).end();
        return;
      }
      const { data } = JSON.parse(body) as { data: { alerts: { text: string }[] } };
      for (const { text } of data.alerts) taken.set(text, (taken.get(text) ?? new Set()).add(id));
      response.writeHead(204).end();
    });
  }).listen(0, '127.0.0.1');
  await once(receiver, 'listening');
  const to = `http://127.0.0.1:${(receiver.address() as { port: number }).port}/`;
  await noteLook(database, Date.now(), 0, () => ({ watched: NOTHING, happened: [] }));
  const rule = await addRule(database, { ...FIRST_RULE, by: 'webhook', to }, 'Ana');
  const from = Date.now() + 1;
  for (let i = 0; i < ALERTS; i++) {
    expect(await noteLook(database, from + i, 0, () => ({ watched: NOTHING, happened: [happened(i)] }))).toBe(1);
  }
  // A look that is older than the last one is left out.
  expect(await noteLook(database, from, 0, () => ({ watched: NOTHING, happened: [happened(5000)] }))).toBe(0);

  const more = { SIGNAL_POST_PRIVATE_WEBHOOKS: 'yes', SIGNAL_POST_RETRY_MS: '20' };
  server = await startProcess(url, [], more);
  await post('/api/alert-rules', { test: rule });
  await until('requests', () => requests > KILLED_AT);
  await endProcess(server, 'SIGKILL');
  killed = true;
  expect(taken.size).toBeLessThan(ALERTS);
  server = await startProcess(url, [], more);
  await post('/api/alert-rules', { test: rule });
  await expect.poll(() => [...taken.keys()].filter((t) => t.startsWith('Finding')).length, { interval: 250 }).toBe(ALERTS);
  for (const [text, ids] of taken) if (text.startsWith('Finding')) expect([text, ids.size]).toEqual([text, 1]);
  expect([...failures.values()].reduce((a, b) => a + b, 0)).toBeGreaterThan(ALERTS / 3);
  receiver.closeAllConnections();
  receiver.close();
});

test('a receiver that is silent keeps its own waiting; what goes to others is taken meanwhile', async () => {
  const rules = await Promise.all(
    ['http://127.0.0.1:11/a', 'http://127.0.0.1:12/b'].map((to) =>
      addRule(database, { ...FIRST_RULE, name: to, by: 'webhook', to }, 'Ana'),
    ),
  );
  const told = [{ kind: 'test' as const, severity: 'note' as const, says: 'x', link: '/', at: 0 }];
  const due = Date.now() - 86_400_000;
  for (let i = 0; i < 6; i++)
    await addDelivery(database, { id: rules[0]!, name: 'a', by: 'webhook', to: `http://127.0.0.1:11/a?${i}` }, told, due + i);
  await addDelivery(database, { id: rules[1]!, name: 'b', by: 'webhook', to: 'http://127.0.0.1:12/b' }, told, due + 100);
  const taken: string[] = [];
  for (let c = await claimDelivery(database, 600); c; c = await claimDelivery(database, 600)) taken.push(c.target);
  // Two of the first, however many wait, and the one of the other.
  expect(taken).toEqual(['http://127.0.0.1:11/a?0', 'http://127.0.0.1:11/a?1', 'http://127.0.0.1:12/b']);
  for (const r of rules) await removeRule(database, r);
});

test('a look by a clock that was ahead does not keep later ones from being told', async () => {
  const now = Date.now();
  expect(await noteLook(database, now + 86_400_000, 0, () => ({ watched: NOTHING, happened: [happened(20_001)] }))).toBe(1);
  expect(await noteLook(database, now + 1, 0, () => ({ watched: NOTHING, happened: [happened(20_002)] }))).toBe(1);
  expect(await noteLook(database, now, 0, () => ({ watched: NOTHING, happened: [happened(20_003)] }))).toBe(0);
});

test('what a daily rule is about goes together in one delivery, when the digest is due; a removed rule sends nothing more', async () => {
  const rule = await addRule(database, { ...FIRST_RULE, name: 'Daily', by: 'webhook', to: 'http://127.0.0.1:9/', pace: 'daily' }, 'Ana');
  const from = Date.now() + 5000;
  const digestAt = from + 3_600_000;
  for (let i = 0; i < 3; i++) await noteLook(database, from + i, digestAt, () => ({ watched: NOTHING, happened: [happened(9000 + i)] }));
  const own = async () => (await deliveries(database)).filter((d) => d.ruleId === rule);
  expect((await own()).map((d) => [d.count, d.nextAt, d.state])).toEqual([[3, digestAt, 'waiting']]);
  expect(await removeRule(database, rule)).toBe(true);
  expect((await own()).map((d) => [d.state, d.error])).toEqual([['given up', 'Its rule was removed.']]);
  expect(await noteLook(database, from + 10, digestAt, () => ({ watched: NOTHING, happened: [] }))).toBe(0);
  expect(await own()).toHaveLength(1);
});

test('without the setting nothing is sent to private networks, by address or by name; the stand-in receiver alone may be', async () => {
  await endProcess(server, 'SIGTERM');
  server = await startProcess(url);
  const add = (to: string): Promise<Response> => post('/api/alert-rules', { add: { ...FIRST_RULE, by: 'webhook', to }, author: 'Ana' });
  for (const to of [
    'http://127.0.0.1:5320/api/publish',
    'http://10.0.0.1/',
    'http://[::1]/',
    'http://0x7f000001/',
    'http://169.254.169.254/latest',
  ]) {
    const r = await add(to);
    expect([to, r.status, ((await r.json()) as { detail: string }).detail.includes('SIGNAL_POST_PRIVATE_WEBHOOKS=yes')]).toEqual([to, 400, true]); // prettier-ignore
  }
  const tried = async (to: string): Promise<Delivery> => tested(((await (await add(to)).json()) as { id: number }).id);
  const tested = async (id: number): Promise<Delivery> => {
    const { delivery } = (await (await post('/api/alert-rules', { test: id })).json()) as { delivery: string };
    return until('try', async () => {
      const d = ((await (await fetch(`${server.url}/api/deliveries`)).json()) as Delivery[]).find((x) => x.id === delivery);
      return d && (d.state !== 'waiting' || d.error !== null) ? d : undefined;
    });
  };
  // A name may stand for anything: it is looked up when it is saved, and again when it is sent to.
  const named = await add('http://localhost:5320/api/publish');
  expect([named.status, ((await named.json()) as { detail: string }).detail]).toEqual([400, expect.stringMatching(/localhost is (127\.0\.0\.1|::1), in a private network\./)]); // prettier-ignore
  const kept = await addRule(database, { ...FIRST_RULE, name: 'Meanwhile', by: 'webhook', to: 'http://localhost:5320/api/publish' }, 'Ana');
  expect((await tested(kept)).error).toMatch(/localhost is (127\.0\.0\.1|::1), in a private network\./);
  expect(await tried(`${server.url}/stand-ins/receiver`)).toMatchObject({ state: 'delivered', status: 204 });
  const page = await (await fetch(`${server.url}/stand-ins/receiver`)).text();
  expect(page).toContain('A test of the rule');
  expect((await fetch(`${server.url}/stand-ins/receiver`, { method: 'POST', body: 'x' })).status).toBe(400);
});
