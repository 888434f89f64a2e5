/** Several processes on one database, each with some of the roles: they show the same, and say what nobody does. */
import { readdirSync, readFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { rolesIn, ROLES } from '../../src/server/roles';
import { create } from '../build/plan';
import { testDatabase } from '../build/database';
import { endProcess, startProcess, TELLS_MEMORY, heldBy, type Running } from '../build/server';
import { smallWorkspace } from '../build/workspace';
import { eventually, until } from '../build/wait';

describe('roles', () => {
  test('all where none is named; what is no role is said', () => {
    expect([...rolesIn(undefined)]).toEqual(ROLES);
    expect([...rolesIn(' ')]).toEqual(ROLES);
    expect([...rolesIn('web, jobs')]).toEqual(['web', 'jobs']);
    expect(() => rolesIn('web,cooking')).toThrow('“cooking” is no role of a process; the roles are web, intake, analysis, jobs.');
  });
});

let url: string;
let one: Running;
let other: Running;
let intake: Running;
let analysis: Running;
const startAs = (roles: string, flags: readonly string[] = []): Promise<Running> => startProcess(url, flags, { SIGNAL_POST_ROLES: roles });
let key: string;

const get = async (at: Running, path: string): Promise<{ status: number; body: unknown }> => {
  const r = await fetch(at.url + path);
  return { status: r.status, body: await r.json() };
};
const send = (at: Running, messages: readonly object[]): Promise<Response> =>
  fetch(`${at.url}/intake`, {
    method: 'POST',
    headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' },
    body: JSON.stringify(messages),
  });
let n = 0;
const parcels = (count: number): object[] =>
  Array.from({ length: count }, () => ({
    id: `r-${n++}`,
    name: 'Parcel Posted',
    time: new Date(Date.now() - (n % 5) * 86_400_000).toISOString(),
    ids: { visitor: `v-${n % 17}`, ...(n % 3 ? {} : { member: `m-${n % 17}` }) },
    properties: { code: n % 11 ? 'a' : 7 },
    release: '1',
  }));

beforeAll(async () => {
  url = await testDatabase('roles_test', 'empty');
  analysis = await startAs('analysis,jobs');
  [one, other, intake] = await Promise.all([startAs('web'), startAs('web'), startAs('intake', TELLS_MEMORY)]);
  key = await smallWorkspace(one.url);
  const question = create('question', 'q', {
    text: 'How many post parcels?',
    formula: { type: 'active persons', events: [{ eventName: 'Parcel Posted', where: [] }], period: 'day' },
  });
  await fetch(`${one.url}/api/edits`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ edits: [question], label: 'A question', author: 'Ines' }),
  });
});
afterAll(() => Promise.all([one, other, intake, analysis].map((p) => endProcess(p, 'SIGKILL'))));

const VIEWS = [
  '/api/findings', '/api/clearance', '/api/counts?days=28', '/api/identity', '/api/identity-health', '/api/matrix', '/api/seen', '/api/traffic', '/api/profile?event=Parcel+Posted',
  '/api/volume', '/api/reconciliation', '/api/user-properties', '/api/situations', '/api/logbook?kind=visitor&value=v-3', '/api/person?kind=visitor&value=v-3', '/api/follow-ups',
]; // prettier-ignore

/** Without what tells when it was made. */
const still = (body: unknown): unknown =>
  JSON.parse(JSON.stringify(body, (k, v: unknown) => (['manyAt', 'now', 'until', 'to', 'from', 'at'].includes(k) ? undefined : v)));

test('what one takes in, two others show, and show alike, while an analysis computes it', async () => {
  for (let i = 0; i < 5; i++) expect((await send(intake, parcels(200))).status).toBe(200);
  await expect.poll(async () => (await get(one, '/api/findings')).body).toMatchObject({ received: 1000 });
  // Between two askings the background may find something: alike is what is asked when it has.
  for (const path of VIEWS)
    await eventually(async () => {
      const [a, b] = [await get(one, path), await get(other, path)];
      expect([path, a.status]).toEqual([path, 200]);
      expect([path, still(b.body)]).toEqual([path, still(a.body)]);
      // It says something.
      expect(JSON.stringify(a.body).length).toBeGreaterThan(1);
    });
  const formula = { type: 'active persons', events: [{ eventName: 'Parcel Posted', where: [] }], period: 'day' };
  const figures = await Promise.all(
    [one, other].map(async (p) =>
      (
        await fetch(`${p.url}/api/figure`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ formula }),
        })
      ).text(),
    ),
  );
  const answers = figures.map((f) => still(JSON.parse(f.trim().split('\n').at(-1)!)) as { answer: object });
  expect(answers[0]!.answer).toBeTruthy();
  expect(answers[1]).toEqual(answers[0]);
});

test('each does its part alone, and says who does the rest', async () => {
  expect(await (await send(one, parcels(1))).json()).toMatchObject({
    error: 'not done here',
    detail: expect.stringContaining('“intake”') as string,
  });
  for (const path of ['/questions', '/api/workplace', '/api/findings'])
    expect((await get(intake, path)).body).toMatchObject({ error: 'not done here', detail: expect.stringContaining('“web”') as string });
  for (const p of [one, other, intake, analysis]) {
    const health = await get(p, '/api/health');
    expect([health.status, health.body]).toMatchObject([200, { ok: true, lacking: [] }]);
  }
});

test('the thread that computes makes way for the one that takes messages', () => {
  const niceOf = (pid: number): Map<number, number> =>
    new Map(
      readdirSync(`/proc/${pid}/task`).map((id) => [
        Number(id),
        // Field 19; the second one, the name in brackets, may have spaces.
        Number(
          readFileSync(`/proc/${pid}/task/${id}/stat`, 'utf8')
            .replace(/^.*\) /, '')
            .split(' ')[16],
        ),
      ]),
    );
  const nice = niceOf(analysis.child.pid!);
  expect(nice.get(analysis.child.pid!)).toBe(0);
  expect([...nice.values()].filter((n) => n > 0)).toEqual([10]);
  expect(new Set(niceOf(intake.child.pid!).values())).toEqual(new Set([0]));
});

test('a process that takes messages alone needs little', async () => {
  for (let i = 0; i < 40; i++) await send(intake, parcels(500));
  // What it has of the machine says how seldom garbage is collected on a busy one.
  expect((await heldBy(intake)).held).toBeLessThan(60);
});

test('without an analysis messages are taken on, views say what is lacking, and it comes back without anybody else being started again', async () => {
  await endProcess(analysis, 'SIGTERM');
  await expect.poll(async () => (await get(one, '/api/processes')).body).toEqual({ lacking: ['analysis', 'jobs'] });
  const findings = await fetch(`${one.url}/api/findings`);
  expect([findings.status, findings.headers.get('retry-after'), await findings.json()]).toMatchObject([
    503,
    '5',
    { error: 'nobody analyses' },
  ]);
  expect((await get(one, '/api/health')).status).toBe(503);
  // Each knows of the others what was so a second ago at most.
  await expect.poll(async () => (await get(intake, '/api/health')).body).toMatchObject({ ok: true, lacking: ['analysis', 'jobs'] });
  expect((await get(one, '/api/workplace')).status).toBe(200);
  expect((await send(intake, parcels(7))).status).toBe(200);
  analysis = await startAs('analysis,jobs');
  await expect.poll(async () => (await get(other, '/api/findings')).body).toMatchObject({ received: 21_007 });
  await expect.poll(async () => (await get(one, '/api/health')).status).toBe(200);
});

test('one that is killed is missed after a while, and the next is asked meanwhile', async () => {
  const second = await startAs('analysis');
  await expect.poll(async () => (await get(one, '/api/processes')).body).toEqual({ lacking: [] });
  await endProcess(analysis, 'SIGKILL');
  // Each knows of the others what was so a second ago at most; from then on nobody is told that nobody analyses.
  await until('answer of the other', async () => (await get(one, '/api/traffic')).status === 200);
  for (let i = 0; i < 6; i++) expect((await get(one, '/api/traffic')).status).toBe(200);
  await expect.poll(async () => (await get(one, '/api/processes')).body).toEqual({ lacking: ['jobs'] });
  await endProcess(second, 'SIGTERM');
});
