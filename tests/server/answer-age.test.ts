/** A server that cannot bring its state up to date gives the answer before, with its age, and the newest as soon as it can. */
import pg from 'pg';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { FigureAnswer } from '../../src/core/questions/compute-figure';
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
