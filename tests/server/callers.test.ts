/** Who asks: the connection's address, unless a named proxy says otherwise; wrong keys brake their own caller alone, on every way in. */
import { gzipSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { Pool } from 'pg';
import { testDatabase } from '../build/database';
import { endProcess, startProcess, type Running } from '../build/server';

let url: string;
let behind: Running;
let plain: Running;
let key: string;
beforeAll(async () => {
  url = await testDatabase('signal_post_callers', { visitors: 40, seed: 5 });
  behind = await startProcess(url, [], { SIGNAL_POST_PROXIES: '127.0.0.1, ::1, 10.9.0.0/16' });
  plain = await startProcess(url);
  const made = await fetch(`${plain.url}/api/keys`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ sourceId: 'web', label: 'x' }) }); // prettier-ignore
  key = ((await made.json()) as { key: string }).key;
});
afterAll(async () => {
  await Promise.all([endProcess(behind, 'SIGTERM'), endProcess(plain, 'SIGTERM')]);
});

const BODY = '[]';
const ways: readonly (readonly [string, (at: string, withKey: string, from: Record<string, string>) => Promise<Response>])[] = [
  ['plain', (at, k, from) => fetch(`${at}/intake`, { method: 'POST', headers: { authorization: `Bearer ${k}`, 'content-type': 'application/json', ...from }, body: BODY })], // prettier-ignore
  ['packed', (at, k, from) => fetch(`${at}/intake`, { method: 'POST', headers: { authorization: `Bearer ${k}`, 'content-encoding': 'gzip', ...from }, body: gzipSync(BODY) })], // prettier-ignore
  ['with the key in the address', (at, k, from) => fetch(`${at}/intake?key=${k}`, { method: 'POST', headers: from, body: BODY })],
  ['with the key in the body', (at, k, from) => fetch(`${at}/intake`, { method: 'POST', headers: from, body: JSON.stringify({ key: k, messages: [] }) })], // prettier-ignore
];

const MOST = 60;
/** Sends until it is braked. What is wrong is counted by the minute of the clock, so that it may take twice as many as are let through. */
const braked = async (send: () => Promise<Response>): Promise<Response> => {
  for (let i = 0; ; i++) {
    const r = await send();
    if (r.status === 429 || i >= 20 * MOST) return r;
    expect(r.status).toBe(401);
  }
};

describe.each(ways)('%s', (_, send) => {
  test('whoever was wrong too often waits; who comes from elsewhere, or has a right key, does not', async () => {
    const bad = { 'x-forwarded-for': `203.0.113.${ways.findIndex(([n]) => n === _) + 1}` };
    const r = await braked(() => send(behind.url, 'spk_wrong_x', bad));
    expect([r.status, Number(r.headers.get('retry-after')) > 0]).toEqual([429, true]);
    expect((await send(behind.url, 'spk_wrong_x', { 'x-forwarded-for': '203.0.113.77' })).status).toBe(401);
    // A right key, seen for the first time from there, too.
    expect((await send(behind.url, key, bad)).status).toBe(200);
  });
});

test('behind several proxies it is who the last of them that is known speaks for; what is made up before that is not believed', async () => {
  const by = (forwarded: string): Promise<Response> => ways[0]![1](behind.url, 'spk_wrong_x', { 'x-forwarded-for': forwarded });
  // The same caller, whatever each says that came before.
  let i = 0;
  expect((await braked(() => by(`198.51.100.${i++ % 250}, 203.0.113.40, 10.9.1.1`))).status).toBe(429);
  expect((await by('203.0.113.40, 203.0.113.41')).status).toBe(401);
});

describe('which messages were taken already', () => {
  const known = (ids: unknown, more: Record<string, string> = { authorization: `Bearer ${key}` }) =>
    fetch(`${plain.url}/intake/known`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', ...more },
      body: JSON.stringify(ids),
    });
  test('is told of the key’s own source alone, from any page', async () => {
    const made = await fetch(`${plain.url}/api/keys`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ sourceId: 'app', label: 'x' }) }); // prettier-ignore
    const other = ((await made.json()) as { key: string }).key;
    const send = (id: string, k: string) =>
      fetch(`${plain.url}/intake`, { method: 'POST', headers: { authorization: `Bearer ${k}`, 'content-type': 'application/json' }, body: JSON.stringify([{ id, name: 'E', time: new Date().toISOString(), ids: {}, properties: {}, release: '' }]) }); // prettier-ignore
    expect([(await send('known-1', key)).status, (await send('known-2', other)).status]).toEqual([200, 200]);
    const r = await known(['known-1', 'known-2', 'known-3', "'; --"], { authorization: `Bearer ${key}`, origin: 'https://shop.example' });
    expect([r.status, await r.json(), r.headers.get('access-control-allow-origin')]).toEqual([200, [{ id: 'known-1' }], '*']);
    expect(await (await known([])).json()).toEqual([]);
    // In the form that is asked now, with the time; which a page of another origin may read, with the date.
    const before = Date.now();
    const now = await known({ ids: ['known-1', 'known-3'] }, { authorization: `Bearer ${key}`, origin: 'https://shop.example' });
    expect(now.headers.get('access-control-expose-headers')).toBe('retry-after, date');
    const said = (await now.json()) as { known: unknown; now: number };
    expect(said.known).toEqual([{ id: 'known-1' }]);
    expect(said.now).toBeGreaterThanOrEqual(before);
    expect(said.now).toBeLessThanOrEqual(Date.now());
    expect(await (await known({ ids: [] })).json()).toMatchObject({ known: [] });
  });
  test('is told to nobody without a key, and refused where it is no list of IDs', async () => {
    expect([(await known(['a'], {})).status, (await known(['a'], { authorization: 'Bearer spk_no' })).status]).toEqual([401, 401]);
    expect([(await known({ a: 1 })).status, (await known([1])).status, (await known(Array.from({ length: 5001 }, String))).status]).toEqual([400, 400, 400]); // prettier-ignore
    expect((await fetch(`${plain.url}/intake/known`, { method: 'OPTIONS' })).status).toBe(204);
    expect((await fetch(`${plain.url}/intake/known`)).status).toBe(405);
  });
});

test('without a named proxy nobody gets rid of a brake by what they write, nor by our own header', async () => {
  for (const more of [{ 'x-forwarded-for': '203.0.113.99' }, { forwarded: 'for=203.0.113.98' }, { 'x-signal-post-caller': '203.0.113.97' }])
    for (const [, send] of ways) {
      // Each time another, as it is said: it is the same caller.
      let i = 0;
      const as = (): Record<string, string> =>
        Object.fromEntries(Object.entries(more).map(([k, v]) => [k, v.replace(/\d+$/, String(i++ % 250))]));
      expect((await braked(() => send(plain.url, 'spk_wrong_x', as()))).status).toBe(429);
    }
});

test('a proxy that is no address is said, and nothing is started', async () => {
  await expect(startProcess(url, [], { SIGNAL_POST_PROXIES: 'the proxy' })).rejects.toThrow(/SIGNAL_POST_PROXIES/);
});

test('half a surrogate pair in a text is kept as the sign for what cannot be read, in keys of objects too', async () => {
  const made = await fetch(`${plain.url}/api/comments`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: '{"kind":"event","entityId":"none","author":"A\\ud800","body":"x\\udc00y \\ud83d\\ude00"}' }); // prettier-ignore
  expect(made.status).toBe(200);
  const { comments } = (await (await fetch(`${plain.url}/api/people`)).json()) as { comments: { author: string; body: string }[] };
  expect(comments.map((c) => [c.author, c.body])).toContainEqual(['A\ufffd', 'x\ufffdy 😀']);
});

test('a database that takes no changes is told as one that is away, with when to come again; reading goes on', async () => {
  const pool = new Pool({ connectionString: url });
  const name = new URL(url).pathname.slice(1);
  await pool.query(`alter database ${name} set default_transaction_read_only = on`);
  // Connections that are open have it from their next beginning.
  await pool.query('select pg_terminate_backend(pid) from pg_stat_activity where datname = $1 and pid <> pg_backend_pid()', [name]);
  const fresh = await startProcess(url);
  try {
    const sent = await fetch(`${fresh.url}/intake`, { method: 'POST', headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' }, body: JSON.stringify([{ id: 'ro-1', name: 'E', time: new Date().toISOString(), ids: {}, properties: {}, release: '' }]) }); // prettier-ignore
    expect([sent.status, Number(sent.headers.get('retry-after')) > 0]).toEqual([503, true]);
    const edited = await fetch(`${fresh.url}/api/keys`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ sourceId: 'web', label: 'y' }) }); // prettier-ignore
    expect([edited.status, Number(edited.headers.get('retry-after')) > 0]).toEqual([503, true]);
    expect((await fetch(`${fresh.url}/api/keys`)).status).toBe(200);
  } finally {
    await pool.end();
    const again = new Pool({ connectionString: url, options: '-c default_transaction_read_only=off' });
    await again.query(`alter database ${name} reset default_transaction_read_only`);
    await again.end();
    await endProcess(fresh, 'SIGTERM');
  }
});
