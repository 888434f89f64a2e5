/** Every contract over HTTP: what is of another shape is turned down with words, what is right is answered as the contract says. */
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Endpoint } from '../../src/core/api/endpoint';
import { ENDPOINTS } from '../../src/core/api/index';
import { testDatabase } from '../build/database';
import { endProcess, startProcess, type Running, requestsTo } from '../build/server';
import { smallWorkspace } from '../build/workspace';

let server: Running;
let key: string;
let readToken: string;

beforeAll(async () => {
  const url = await testDatabase('contracts_test', 'empty');
  server = await startProcess(url);
  key = await smallWorkspace(server.url);
  const made = await fetch(`${server.url}/api/read-tokens`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ label: 'a test', author: 'Ines' }),
  });
  readToken = ((await made.json()) as { token: string }).token;
  const message = { id: 'c-1', name: 'Parcel Posted', time: new Date().toISOString(), ids: { visitor: 'v-1' }, properties: { code: 'x' } };
  await fetch(`${server.url}/intake`, {
    method: 'POST',
    headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' },
    body: JSON.stringify([message]),
  });
});
afterAll(() => endProcess(server, 'SIGTERM'));

const addressOf = (e: Endpoint): string => `${e.method} ${e.path}`;
const GETS = ENDPOINTS.filter((e: Endpoint) => e.method === 'GET' && e.content !== 'text/event-stream');
const POSTS = ENDPOINTS.filter((e: Endpoint) => e.method === 'POST' && e.path.startsWith('/api/'));

/** What an endpoint is asked with so that it has an answer. */
const ASKED: Readonly<Record<string, string>> = {
  'GET /api/version': '?number=1',
  'GET /api/plan-at': '?at=2030-01-01T00:00:00Z',
  'GET /api/at-message': '?seq=1',
  'GET /api/drift': '?since=1000',
  'GET /api/finding-messages': '?key=none',
  'GET /api/identifiers': '?like=v',
  'GET /api/logbook': '?kind=visitor&value=v-1',
  'GET /api/person': '?kind=visitor&value=v-1',
  'GET /api/person-case': '?kind=visitor&value=v-1',
  'GET /api/profile': '?event=Parcel+Posted',
  'GET /api/proposal': '?id=none',
  'GET /api/sign-offs': '?question=q1',
  'GET /api/models': '?language=go',
  'GET /api/trial-evidence': '?id=6f8a0663-b5c3-49be-bf51-c23978bc287b',
  'GET /api/hand-off-document': '?source=shop',
};
/** Right, and about something that there is not. */
const NOT_THERE: readonly string[] = [
  'GET /api/finding-messages',
  'GET /api/proposal',
  'GET /api/trial-evidence',
  'GET /api/answers/{question}/signal.svg',
];

describe('what is asked for rightly', () => {
  test.each(GETS.map((e): [string, Endpoint] => [addressOf(e), e]))('%s', async (address, e) => {
    const path = e.path.replace('{event}', 'posted').replace('{question}', 'none') + (ASKED[address] ?? '');
    const r = await fetch(server.url + path, e.role === 'read token' ? { headers: { authorization: `Bearer ${readToken}` } } : {});
    const text = await r.text();
    expect([address, r.status, r.status < 300 ? '' : text]).toEqual(
      NOT_THERE.includes(address) ? [address, 404, expect.stringContaining('detail')] : [address, 200, ''],
    );
    if (e.content === 'application/json') expect(r.headers.get('content-type')).toContain('application/json');
    if (e.content === 'file' && r.ok) expect(r.headers.get('content-disposition')).toContain('attachment');
    if (r.ok && e.content === 'application/json') expect([address, e.answer.safeParse(JSON.parse(text)).success]).toEqual([address, true]);
    // Only asking: what it has no method for it says.
    const others = ENDPOINTS.filter((x) => x.path === e.path).map((x): string => x.method);
    const wrong = await fetch(server.url + path, { method: others.includes('POST') ? 'PUT' : 'POST' });
    expect([address, wrong.status, wrong.headers.get('allow')?.split(', ').sort()]).toEqual([address, 405, others.sort()]);
  });
});

describe('what lacks a part of its query', () => {
  const wanting = GETS.filter((e: Endpoint) => !e.path.includes('{') && !e.query.safeParse({}).success);
  test('is asked of several endpoints', () => expect(wanting.length).toBeGreaterThan(8));
  test.each(wanting.map((e): [string, Endpoint] => [addressOf(e), e]))('%s', async (_, e) => {
    const r = await fetch(server.url + e.path);
    const { error, detail } = (await r.json()) as { error: string; detail: string };
    expect([r.status, error]).toEqual([400, 'wrong shape']);
    // The part that is missing is named.
    expect(detail).toMatch(/^\w+: /);
  });
});

describe('a body of another shape', () => {
  const BODIES: readonly (readonly [string, string])[] = [
    ['no JSON', '{'],
    ['a list', '[]'],
    ['a text', '"x"'],
    ['null', 'null'],
  ];
  const cases = POSTS.flatMap((e) => BODIES.map(([what, body]): [string, string, Endpoint, string] => [addressOf(e), what, e, body]));
  test.each(cases)('%s, %s', async (_, __, e, body) => {
    const r = await fetch(server.url + e.path, {
      method: 'POST',
      headers: { 'content-type': 'application/json', ...(e.role === 'write key' ? { authorization: `Bearer ${key}` } : {}) },
      body,
    });
    const said = (await r.json()) as { error: string; detail: string };
    expect([r.status, said.detail.length > 5]).toEqual([400, true]);
  });
  test('without a read token nothing of the answers is read', async () => {
    for (const e of ENDPOINTS.filter((x: Endpoint) => x.role === 'read token')) {
      const r = await fetch(server.url + e.path.replace('{question}', 'none'));
      expect([e.path, r.status]).toEqual([e.path, 401]);
    }
  });
  test('without a write key is not looked at', async () => {
    for (const e of ENDPOINTS.filter((x: Endpoint) => x.role === 'write key')) {
      const r = await fetch(server.url + e.path, { method: 'POST', headers: { 'content-type': 'application/json' }, body: '{}' });
      expect([e.path, r.status]).toEqual([e.path, 401]);
    }
  });
});

describe('the description', () => {
  test('is a page for people, with every endpoint once', async () => {
    const html = await (await fetch(`${server.url}/api`)).text();
    for (const e of ENDPOINTS) expect([addressOf(e), html.split(`id="${addressOf(e).replace(/[^A-Za-z]+/g, '-').toLowerCase()}"`).length - 1]).toEqual([addressOf(e), 1]); // prettier-ignore
  });
  test('is sent packed, as are files; streams are not', async () => {
    const packed = await fetch(`${server.url}/api/openapi.json`, { headers: { 'accept-encoding': 'gzip' } });
    expect(packed.headers.get('content-encoding')).toBe('gzip');
    expect(((await packed.json()) as { openapi: string }).openapi).toBe('3.1.1');
    const gone = new AbortController();
    const stream = await fetch(`${server.url}/api/live`, { headers: { 'accept-encoding': 'gzip' }, signal: gone.signal });
    expect([stream.headers.get('content-type'), stream.headers.get('content-encoding')]).toEqual(['text/event-stream', null]);
    gone.abort();
  });
});

test('whoever publishes is noted', async () => {
  const { post } = requestsTo(() => server);
  const edits = [{ op: 'set', kind: 'event', id: 'posted', field: 'notes', before: '', after: 'At the counter.' }];
  expect((await post('/api/edits', { edits, author: 'Ines' })).status).toBe(200);
  expect((await post('/api/publish', { note: 'second', author: 'Ines' })).status).toBe(200);
  const { versions } = (await (await fetch(`${server.url}/api/history`)).json()) as { versions: { number: number; author: string }[] };
  expect(versions[0]).toMatchObject({ number: 2, author: 'Ines' });
});
