/** A server that cannot bring its state up to date gives the answer before, with its age, and the newest as soon as it can. */
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { FigureAnswer } from '../../src/core/questions/compute-figure';
import { create } from '../build/plan';
import { testDatabase } from '../build/database';
import { endProcess, requestsTo, startProcess, type Running } from '../build/server';
import { until } from '../build/wait';
import { smallWorkspace } from '../build/workspace';

let server: Running;
let client: pg.Client;
let key: string;
const { post } = requestsTo(() => server);

beforeAll(async () => {
  const url = await testDatabase('answer_age_test', 'empty');
  client = new pg.Client({ connectionString: url });
  await client.connect();
  server = await startProcess(url, [], { SIGNAL_POST_PATIENCE_MS: '50' });
  key = await smallWorkspace(server.url);
});
afterAll(async () => {
  await client.end();
  await endProcess(server, 'SIGTERM');
});

const send = (id: string): Promise<Response> =>
  post('/intake', [{ id, name: 'Parcel Posted', time: new Date().toISOString(), ids: { visitor: id }, properties: { code: 'a' }, release: '1' }], { authorization: `Bearer ${key}` }); // prettier-ignore

/** How many persons a figure counts, and the age that the answer says; the same of a view that is only read. */
const told = async () => {
  const figure = await post('/api/figure', { formula: { type: 'active persons', events: [{ eventName: 'Parcel Posted', where: [] }], period: 'month' } }); // prettier-ignore
  const last = (await figure.text()).trim().split('\n').at(-1)!;
  const { answer } = JSON.parse(last) as { answer: FigureAnswer };
  const persons = (answer.figure as unknown as { points: { persons: number }[] }).points.reduce((sum, p) => sum + p.persons, 0);
  const identity = await fetch(`${server.url}/api/identity`);
  const { messages } = (await identity.json()) as { messages: number };
  return { persons, messages, ages: [figure.headers.get('age'), identity.headers.get('age')] };
};
const newest = (n: number) => ({ persons: n, messages: n, ages: [null, null] });

test('what is of the newest has no age; what is not says how many seconds it is behind, which grow until it is', async () => {
  expect((await send('m-1')).status).toBe(200);
  await expect.poll(told).toEqual(newest(1));
  // What is looked at before messages are added.
  await client.query('begin');
  await client.query('lock table rechecks in access exclusive mode');
  expect((await send('m-2')).status).toBe(200);
  const behind = await told();
  expect([behind.persons, behind.messages]).toEqual([1, 1]);
  for (const age of behind.ages) expect(Number(age)).toBeGreaterThanOrEqual(1);
  await until('age that grew', async () => Number((await told()).ages[1]) > Number(behind.ages[1]));
  await client.query('commit');
  await expect.poll(told).toEqual(newest(2));
});

describe('a version under which the checks over many have not looked', () => {
  const QUESTION = create('question', 'q', {
    text: 'How many post parcels?',
    formula: { type: 'active persons', events: [{ eventName: 'Parcel Posted', where: [] }], period: 'day' },
  });
  const start = async (name: string, more: Readonly<Record<string, string>>): Promise<Running> => {
    const own = await startProcess(await testDatabase(name, 'empty'), [], more);
    const to = requestsTo(() => own);
    const shop = await smallWorkspace(own.url);
    const sent = Array.from({ length: 300 }, (_, i) => ({ id: `q-${i}`, name: 'Parcel Posted', time: new Date(Date.now() - i * 60_000).toISOString(), ids: { visitor: `v-${i % 40}` }, properties: { code: 'a' }, release: '1' })); // prettier-ignore
    expect((await to.post('/intake', sent, { authorization: `Bearer ${shop}` })).status).toBe(200);
    expect((await to.post('/api/edits', { edits: [QUESTION], label: 'A question', author: 'Ines' })).status).toBe(200);
    expect((await to.post('/api/publish', { note: 'a question' })).status).toBe(200);
    return own;
  };
  const read = async <T>(at: Running, path: string): Promise<T> => (await (await fetch(at.url + path)).json()) as T;
  const gatesOf = async (at: Running) => {
    const [q] = await read<readonly { signal: string; gates: readonly { gate: string; signal: string; evidence: string }[] }[]>(at, '/api/clearance'); // prettier-ignore
    return q!.gates.filter((g) => ['conforming', 'identified', 'complete', 'fresh'].includes(g.gate));
  };

  test('is not judged by what they would find, and says so, for as long as nobody looks', async () => {
    const own = await start('unlooked_test', { SIGNAL_POST_ROLES: 'web,intake,analysis', SIGNAL_POST_PATIENCE_MS: '50' });
    await expect.poll(() => read<object>(own, '/api/findings')).toMatchObject({ groups: [], messages: 300, manyAt: null });
    // Nor is a message judged by a version before somebody checks what was recorded.
    const says = { conforming: '0 of 300 recorded messages are checked against the newest version so far.' } as Readonly<
      Record<string, string>
    >;
    for (const g of await gatesOf(own))
      expect([g.gate, g.signal, g.evidence]).toEqual([g.gate, 'open', says[g.gate] ?? 'The messages are still being looked through.']);
    const asked = await requestsTo(() => own).post('/api/sign-offs', { questionId: 'q', author: 'Ines', note: 'looks right', until: null });
    expect([asked.status, await asked.text()]).toEqual([409, expect.stringContaining('not judged yet')]);
    await endProcess(own, 'SIGTERM');
  });

  test('is looked at while a view waits for that, which does not hold up what it waits for', async () => {
    const own = await start('looked_test', {});
    // Each would have held the state that the look needs, until its patience was over and nothing was found.
    const [findings, gates] = await Promise.all([
      read<{ manyAt: number | null }>(own, '/api/findings'),
      gatesOf(own),
      ...['matrix', 'follow-ups', 'findings', 'clearance'].map((v) => read(own, `/api/${v}`)),
    ]);
    expect(findings.manyAt).not.toBeNull();
    for (const g of gates) expect([g.gate, g.signal === 'open']).toEqual([g.gate, false]);
    await endProcess(own, 'SIGTERM');
  });
});
