/** Versions published while answers are worked out: each answer is wholly of one version, never of two. And a database that is away for a while: views
 *  say so, and afterwards show what came meanwhile.
 */
import pg from 'pg';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Plan } from '../../src/core/plan/plan';
import { seeded } from '../../src/demo/random';
import { create } from '../build/plan';
import { testDatabase } from '../build/database';
import { until } from '../build/wait';
import { endProcess, startProcess, type Running, requestsTo } from '../build/server';
import { smallWorkspace } from '../build/workspace';

let server: Running;
let url: string;
let key: string;

const get = async (path: string): Promise<unknown> => {
  const r = await fetch(`${server.url}/api/${path}`);
  const text = await r.text();
  expect([r.status, text.slice(0, 200)]).toEqual([200, text.slice(0, 200)]);
  return JSON.parse(text) as unknown;
};
const { post } = requestsTo(() => server);
const send = (messages: readonly object[]): Promise<Response> =>
  fetch(`${server.url}/intake`, {
    method: 'POST',
    headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' },
    body: JSON.stringify(messages),
  });

const random = seeded(7);
let n = 0;
/** Messages of visitors of whom two or three are one member: with links they are fewer people. */
const parcels = (count: number): object[] =>
  Array.from({ length: count }, () => {
    const visitor = random.int(0, 600);
    return {
      id: `p-${n++}`,
      name: 'Parcel Posted',
      time: new Date(Date.now() - random.int(60, 30 * 86_400) * 1000).toISOString(),
      ids: { visitor: `v-${visitor}`, ...(random.next() < 0.4 ? { member: `m-${visitor % 250}` } : {}) },
      properties: { code: random.pick(['a', 'b', 'c']) },
      release: '1',
    };
  });

beforeAll(async () => {
  url = await testDatabase('published_meanwhile_test', 'empty');
  server = await startProcess(url);
  key = await smallWorkspace(server.url);
  const active = { type: 'active persons', events: [{ eventName: 'Parcel Posted', where: [] }], period: 'day' } as const;
  const questions = [
    create('question', 'q1', { text: 'How many post parcels?', formula: active }),
    create('question', 'q2', { text: 'And by code?', formula: { ...active, groupBy: { of: 'property', name: 'code' } } }),
  ];
  expect((await post('/api/edits', { edits: questions, label: 'Questions', author: 'Ines' })).status).toBe(200);
  expect((await post('/api/publish', { note: 'questions' })).status).toBe(200);
  for (let i = 0; i < 40; i++) expect((await send(parcels(500))).status).toBe(200);
});
afterAll(() => endProcess(server, 'SIGTERM'));

/** What of an answer hangs on the links: how many people there are, wherever it says so. */
const people = (view: string, body: unknown): unknown => {
  if (view === 'identity') return (body as { bases: { basis: string; persons: number }[] }).bases.map((b) => b.persons);
  if (view === 'clearance')
    return (body as { figure?: { points?: { persons: number }[] } }[]).map((q) => q.figure?.points?.reduce((sum, p) => sum + p.persons, 0));
  return (body as { figure: { points: { persons: number }[] }; groups?: { persons: number }[] }[])
    .map((a) => [a.figure.points.reduce((sum, p) => sum + p.persons, 0), a.groups?.map((g) => g.persons)])
    .flat();
};
const figure = async (): Promise<unknown> => {
  const formula = {
    type: 'active persons',
    events: [{ eventName: 'Parcel Posted', where: [] }],
    period: 'day',
    groupBy: { of: 'property', name: 'code' },
  };
  const r = await post('/api/figure', { formula });
  expect(r.status).toBe(200);
  return [(JSON.parse((await r.text()).trim().split('\n').at(-1)!) as { answer: unknown }).answer];
};
const ask = async (view: string): Promise<string> => JSON.stringify(people(view, view === 'figure' ? await figure() : await get(view)));
const VIEWS = ['identity', 'clearance', 'figure'];

const link = async (linking: boolean): Promise<void> => {
  const { plan } = (await get('workplace')) as { plan: Plan };
  const [[id, { identity }]] = Object.entries(plan.settings) as [[string, Plan['settings'][string]]];
  const edit = {
    op: 'set',
    kind: 'settings',
    id,
    field: 'identity',
    before: identity,
    after: { ...identity, links: linking ? [['visitor', 'member']] : [] },
  };
  expect((await post('/api/edits', { edits: [edit], label: 'Links', author: 'Ines' })).status).toBe(200);
  expect((await post('/api/publish', { note: String(linking) })).status).toBe(200);
};

test('each answer is of one version', async () => {
  const known = new Map(VIEWS.map((v) => [v, new Set<string>()]));
  for (const linking of [true, false]) {
    await link(linking);
    // On a busy machine views are answered from the state before for a while; under the draft, which is the same plan now, the rules are the new ones at once.
    await until(
      'the version is in force',
      async () => JSON.stringify(people('identity', await get('identity?rules=draft'))) === (await ask('identity')),
    );
    for (const view of VIEWS) known.get(view)!.add(await ask(view));
  }
  // The two versions are told apart by every view.
  for (const view of VIEWS) expect([view, known.get(view)!.size]).toEqual([view, 2]);
  let over = false;
  const seen = new Map(VIEWS.map((v) => [v, new Set<string>()]));
  const asking = Promise.all(
    VIEWS.map(async (view) => {
      while (!over) seen.get(view)!.add(await ask(view));
    }),
  );
  for (let i = 0; i < 12; i++) await link(i % 2 === 0);
  over = true;
  await asking;
  for (const view of VIEWS)
    for (const answer of seen.get(view)!) expect([view, known.get(view)!.has(answer), answer]).toEqual([view, true, answer]);
});

test('a database that is away: what is asked meanwhile is told so or answered from what is there, and nothing that came is missed afterwards', async () => {
  const admin = new pg.Client({ connectionString: process.env['TEST_DATABASE_URL'] });
  await admin.connect();
  const name = new URL(url).pathname.slice(1);
  const before = ((await get('findings')) as { received: number }).received;
  await admin.query(`alter database ${name} allow_connections false`);
  await admin.query(`select pg_terminate_backend(pid) from pg_stat_activity where datname = '${name}'`);
  const until = Date.now() + 6000;
  const answers = new Set<number>();
  while (Date.now() < until) {
    for (const path of ['/api/findings', '/api/identity', '/api/clearance']) answers.add((await fetch(server.url + path)).status);
    const rejected = await send(parcels(1));
    expect([rejected.status, rejected.headers.get('retry-after') === null]).toEqual([503, false]);
  }
  for (const status of answers) expect([200, 503]).toContain(status);
  expect((await fetch(`${server.url}/api/alive`)).status).toBe(200);
  await admin.query(`alter database ${name} allow_connections true`);
  await admin.end();
  await expect.poll(async () => (await send(parcels(10))).status).toBe(200);
  await expect
    .poll(async () => ((await fetch(`${server.url}/api/findings`).then((r) => r.json())) as { received?: number }).received, {})
    .toBe(before + 10);
});
