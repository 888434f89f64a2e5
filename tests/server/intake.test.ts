import { connect } from 'node:net';
import { gzipSync } from 'node:zlib';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { prepareEmpty } from '../../ops/prepare';
import { publishedEdits } from '../../src/demo/plan';
import { testDatabase } from '../build/database';
import { smallDisk } from '../build/small-disk';
import { endProcess, heldMoreDuring, startProcess, TELLS_MEMORY, type Running } from '../build/server';
import { until } from '../build/wait';

let server: Running;
let second: Running;
let client: pg.Client;
let databaseUrl: string;
let key: string;

const api = (path: string, body: unknown, url = server.url) =>
  fetch(`${url}${path}`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });
const send = (body: BodyInit, headers: Record<string, string> = {}, url = server.url) =>
  fetch(`${url}/intake`, {
    method: 'POST',
    headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json', ...headers },
    body,
  });

interface Answer {
  accepted: number;
  acceptedWithFindings: number;
  duplicates: number;
  rejected: number;
  answers: { index: number; answer: string; reason?: string; detail?: string; findings?: { sentence: string; fix: string }[] }[];
}
const answerOf = async (r: Response): Promise<Answer> => (await r.json()) as Answer;
const count = async (where = 'true'): Promise<number> =>
  Number((await client.query<{ n: string }>(`select count(*) as n from messages where ${where}`)).rows[0]!.n);

let n = 0;
const signOut = (more: Record<string, unknown> = {}) => ({
  id: `t-${n++}`,
  name: 'Signed Out',
  time: '2026-11-01T10:00:00Z',
  ids: { anonymous: 'a-1' },
  ...more,
});

beforeAll(async () => {
  databaseUrl = await testDatabase('intake_test', 'bare');
  // Two at once: the migrations run once, and nobody fails.
  await prepareEmpty(databaseUrl);
  client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  [server, second] = await Promise.all([startProcess(databaseUrl, TELLS_MEMORY), startProcess(databaseUrl)]);
  await api('/api/edits', { edits: publishedEdits.filter((e) => e.kind !== 'settings'), label: 'plan' });
  expect((await api('/api/publish', { note: 'first' })).status).toBe(200);
  key = ((await (await api('/api/keys', { sourceId: 'web', label: 'test' })).json()) as { key: string }).key;
});

afterAll(async () => {
  await Promise.all([endProcess(server, 'SIGTERM'), endProcess(second, 'SIGTERM')]);
  await client.end();
});

describe('answers', () => {
  test('one for each message: accepted, with findings, duplicate, rejected; the good ones of a batch are kept', async () => {
    const first = signOut();
    const response = await send(
      JSON.stringify([
        first,
        first,
        signOut({ name: 'signed out' }),
        { name: 'x' },
        5,
        signOut({ time: 'yesterday' }),
        signOut({ name: undefined }),
        signOut({ time: undefined }),
      ]),
    );
    expect(response.status).toBe(200);
    const body = await answerOf(response);
    expect(body.answers.map((a) => [a.answer, a.reason])).toEqual([
      ['accepted', undefined],
      ['duplicate', undefined],
      ['accepted with findings', undefined],
      ['rejected', 'no message ID'],
      ['rejected', 'not an object'],
      ['rejected', 'time not RFC 3339'],
      ['rejected', 'no name'],
      ['rejected', 'no time'],
    ]);
    expect(body.answers[2]!.findings![0]!.sentence).toBe('`signed out` is not in the plan; it is `Signed Out` but for case or spacing.');
    expect(await count(`name in ('signed out', 'Signed Out')`)).toBe(2);
    expect((await answerOf(await send(JSON.stringify([first]), {}, second.url))).duplicates).toBe(1);
  });

  test('a message that says it is of a sample, or that others were lost before it, is told to whoever counts', async () => {
    const body = await answerOf(
      await send(JSON.stringify([signOut({ sample_rate: 0.25, dropped_before: 7 }), signOut({ sample_rate: 4 })])),
    );
    expect(body.answers.map((a) => a.findings?.map((f) => f.sentence))).toEqual([
      [
        '`Signed Out` was sent from a sample: 25 % of devices send it.',
        '`Signed Out` says that 7 messages before it were let go on the device.',
      ],
      undefined,
    ]);
  });

  test('straight from the connection or through the application, packed or not: the same answers', async () => {
    const batch = () => JSON.stringify([signOut(), { name: 'x' }, signOut({ name: 'signed out' }), signOut({ note: 'é 😀' })]);
    const plain = await answerOf(await send(batch()));
    const packed = await answerOf(await send(gzipSync(batch()), { 'content-encoding': 'gzip' }));
    // A body of unknown length is no plain batch.
    const streamed = await answerOf(
      await fetch(`${server.url}/intake`, {
        method: 'POST',
        headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' },
        body: new Blob([batch()]).stream(),
        duplex: 'half',
      } as RequestInit),
    );
    const told = ({ answers, now: _, ...sums }: Answer & { now?: number }) => ({
      ...sums,
      answers: answers.map(({ answer, reason }) => [answer, reason]),
    });
    expect(told(plain)).toMatchObject({ accepted: 2, acceptedWithFindings: 1, rejected: 1 });
    expect(told(packed)).toEqual(told(plain));
    expect(told(streamed)).toEqual(told(plain));
  });

  test('on one connection: a wrong key with a long body, then a right one; and a body that breaks off harms nobody', async () => {
    const { port } = new URL(server.url);
    const request = (authorization: string, body: string, length = Buffer.byteLength(body)): string =>
      `POST /intake HTTP/1.1\r\nhost: x\r\nauthorization: Bearer ${authorization}\r\ncontent-type: application/json\r\ncontent-length: ${length}\r\n\r\n${body}`;
    const long = JSON.stringify(Array.from({ length: 3000 }, () => signOut()));
    const before = await count();
    const socket = connect(Number(port), '127.0.0.1');
    let heard = '';
    socket.setEncoding('utf8').on('data', (text: string) => (heard += text));
    socket.write(request('wrong', long) + request(key, JSON.stringify([signOut()])));
    await expect.poll(() => heard.match(/HTTP\/1\.1 \d+/g)).toEqual(['HTTP/1.1 401', 'HTTP/1.1 200']);
    socket.end();
    const broken = connect(Number(port), '127.0.0.1');
    broken.write(request(key, long.slice(0, 90_000), Buffer.byteLength(long)), () => broken.destroy());
    await new Promise((gone) => broken.once('close', gone));
    expect((await send(JSON.stringify([signOut()]))).status).toBe(200);
    expect(await count()).toBe(before + 2);
  });

  test('what comes again among new messages, batch after batch and in both processes, counts once', async () => {
    const known = Array.from({ length: 40 }, () => signOut());
    const before = await count();
    for (let round = 0; round < 6; round++) {
      const fresh = Array.from({ length: 5 }, () => signOut());
      const mixed = [...fresh.slice(0, 2), ...known.slice(0, round === 0 ? 40 : round * 7), ...fresh.slice(2)];
      const [a, b] = await Promise.all(
        [send(JSON.stringify(mixed)), send(JSON.stringify(mixed), {}, second.url)].map(async (r) => answerOf(await r)),
      );
      expect(a!.accepted + b!.accepted).toBe(round === 0 ? 45 : 5);
      expect(a!.duplicates + b!.duplicates).toBe(2 * mixed.length - (round === 0 ? 45 : 5));
    }
    expect(await count()).toBe(before + 70);
  });

  test('a beacon, which can set no headers: the key in the address, the body as plain text', async () => {
    const beacon = await fetch(`${server.url}/intake?key=${key}`, {
      method: 'POST',
      headers: { 'content-type': 'text/plain;charset=UTF-8', origin: 'https://shop.example' },
      body: JSON.stringify([signOut()]),
    });
    expect([beacon.status, beacon.headers.get('access-control-allow-origin')]).toEqual([200, '*']);
    expect((await answerOf(beacon)).accepted).toBe(1);
  });

  test('NDJSON and gzip; a line that is no JSON is rejected alone', async () => {
    const body = await answerOf(
      await send(gzipSync(`${JSON.stringify(signOut())}\n{"id": \n${JSON.stringify(signOut())}\n`), {
        'content-type': 'application/x-ndjson',
        'content-encoding': 'gzip',
      }),
    );
    expect(body).toMatchObject({ accepted: 2, rejected: 1 });
    expect(body.answers[1]).toMatchObject({ index: 1, reason: 'not JSON' });
  });

  test('CloudEvents in structured, batch and binary mode; one that is none is rejected alone', async () => {
    const ce = (id: string) => ({
      specversion: '1.0',
      id,
      source: '/hall',
      type: 'Signed Out',
      time: '2026-11-01T10:00:00Z',
      userid: 'm-7',
      data: {},
    });
    expect(await answerOf(await send(JSON.stringify(ce('c1')), { 'content-type': 'application/cloudevents+json' }))).toMatchObject({
      accepted: 1,
    });
    const batch = [ce('c2'), { ...ce('c3'), specversion: '2.0' }, ce('c2')];
    const body = await answerOf(await send(JSON.stringify(batch), { 'content-type': 'application/cloudevents-batch+json' }));
    expect(body.answers.map((a) => [a.answer, a.reason])).toEqual([
      ['accepted', undefined],
      ['rejected', 'not readable'],
      ['duplicate', undefined],
    ]);
    const { data, ...attributes } = ce('c4');
    const headers = Object.fromEntries(Object.entries(attributes).map(([k, v]) => [`ce-${k}`, encodeURIComponent(v)]));
    expect(await answerOf(await send(JSON.stringify(data), headers))).toMatchObject({ accepted: 1 });
    expect(await count(`message_id like '/hall c%' and name = 'Signed Out'`)).toBe(3);
  });

  test('the raw text of a line is stored as it came', async () => {
    const line = `{"id":"raw-1", "name":"Signed Out",  "time":"2026-11-01T10:00:00Z","properties":{"n":1.000,"s":"\\u0000\\ud800"}}`;
    expect((await answerOf(await send(line, { 'content-type': 'application/x-ndjson' }))).acceptedWithFindings).toBe(1);
    const { rows } = await client.query<{ body: string }>(`select body::text as body from messages where message_id = 'raw-1'`);
    expect(rows[0]!.body).toBe(line);
  });

  test('what a body is laid out like, and letters that no store holds, lose nothing', async () => {
    const odd = [
      signOut({ properties: { 'a\0b': 'x\ud800' } }),
      signOut({ name: 'Sign\ud800', release: 'r\udc00' }),
      signOut({ id: `odd\ud800${n}` }),
    ];
    const response = await send(`\ufeff ${JSON.stringify(odd, null, 2)}`);
    expect([response.status, await response.clone().text()]).toEqual([200, expect.any(String)]);
    const body = await answerOf(response);
    expect(body.answers.map((a) => a.answer)).toEqual(['accepted with findings', 'accepted with findings', 'accepted']);
    expect((await answerOf(await send(JSON.stringify(odd)))).duplicates).toBe(3);
    const { groups } = (await (await fetch(new URL('/api/findings', server.url))).json()) as { groups: { key: string }[] };
    expect(groups.filter((g) => g.key.includes('a\u2400b'))).toHaveLength(1);
    expect(await count(`name = 'Sign\ufffd' and release = 'r\ufffd'`)).toBe(1);
  });

  test.each([
    ['not JSON', 'nonsense', {}, 400, 'not JSON'],
    ['not an array', '"text"', {}, 400, 'not an array'],
    ['an unknown encoding', '[]', { 'content-encoding': 'br' }, 415, 'unknown encoding'],
    ['broken gzip', 'abc', { 'content-encoding': 'gzip' }, 400, 'unreadable body'],
    ['a wrong key', '[]', { authorization: 'Bearer spk_wrong' }, 401, 'wrong key'],
    ['too many bytes', 'x'.repeat(10_000_001), {}, 413, 'too large'],
    ['too many messages', JSON.stringify(Array.from({ length: 5001 }, () => 1)), {}, 413, 'too large'],
  ])('%s gets a status and says why', async (_, body, headers, status, error) => {
    const response = await send(body, headers);
    expect(response.status).toBe(status);
    expect(await response.json()).toMatchObject({ error, detail: expect.stringMatching(/.{15}/) as string });
  });

  test('bytes that are not UTF-8 are rejected', async () => {
    expect((await send(new Uint8Array([0x5b, 0xff, 0xfe, 0x5d]))).status).toBe(400);
  });

  test('a message over its limit is rejected, the others are kept; all rejected is 422', async () => {
    const big = signOut({ properties: { text: 'x'.repeat(70_000) } });
    expect(await answerOf(await send(JSON.stringify([big, signOut()])))).toMatchObject({ accepted: 1, rejected: 1 });
    const response = await send(JSON.stringify([big]));
    expect(response.status).toBe(422);
    expect((await answerOf(response)).answers[0]).toMatchObject({ reason: 'too large' });
  });

  test('what cannot be read is kept with its bytes, found by a part of them, fixed and sent again', async () => {
    const letters = async (like: string) =>
      (await (await fetch(`${server.url}/api/dead-letters?like=${encodeURIComponent(like)}`)).json()) as {
        id: number;
        text: string;
        reason: string;
      }[];
    const broken = `{"id":"fixed-1","name":"Signed Out","time":"2026-11-01 at ten","ids":{"anonymous":"a-\u00fc"}}`;
    await send(broken, { 'content-type': 'application/x-ndjson' });
    await send('{"id": half');
    await send(new Uint8Array([0x5b, 0xff, 0xfe, 0x5d]));
    expect((await letters('half'))[0]).toMatchObject({ reason: 'not JSON', text: '{"id": half' });
    expect((await letters('not UTF-8'))[0]).toMatchObject({ text: '[\u00ff\u00fe]', readable: false, size: 4 });
    const [letter] = await letters('fixed-1');
    expect(letter).toMatchObject({ text: broken, reason: 'time not RFC 3339' });
    const again = (text: string) => api('/api/dead-letters', { id: letter!.id, text });
    expect((await again(broken)).status).toBe(422);
    expect(await letters('fixed-1')).toHaveLength(1);
    expect(await (await again(broken.replace('2026-11-01 at ten', '2026-11-01T10:00:00Z'))).json()).toMatchObject({ answer: 'accepted' });
    expect(await letters('fixed-1')).toEqual([]);
    expect(await count(`message_id = 'fixed-1'`)).toBe(1);
  });

  test('a key with a limit: 429 until the next minute, over both processes; a key that is replaced works on, one that has ended does not', async () => {
    const made = (await (await api('/api/keys', { sourceId: 'web', label: 'slow', perMinute: 30 })).json()) as { key: string };
    const with_ = (n: number, url = server.url) =>
      send(JSON.stringify(Array.from({ length: n }, () => signOut())), { authorization: `Bearer ${made.key}` }, url);
    // The minute may turn in between once, not twice.
    const statuses: number[] = [];
    for (let i = 0; i < 3; i++) for (const url of [server.url, second.url]) statuses.push((await with_(20, url)).status);
    expect(statuses.filter((x) => x === 200).length).toBeLessThanOrEqual(2);
    expect(statuses).toContain(429);
    const late = await with_(31);
    expect(late.status).toBe(429);
    expect(Number(late.headers.get('retry-after'))).toBeGreaterThan(0);
    const listed = (await (await fetch(`${server.url}/api/keys?source=web`)).json()) as { id: number; label: string }[];
    expect(JSON.stringify(listed)).not.toContain(made.key);
    const { id } = listed.find((k) => k.label === 'slow')!;
    await api('/api/keys', { end: id, hours: 24 });
    const third = await startProcess(databaseUrl);
    expect((await with_(1, third.url)).status).not.toBe(401);
    await api('/api/keys', { end: id, hours: 0 });
    await endProcess(third, 'SIGTERM');
    const fourth = await startProcess(databaseUrl);
    expect((await with_(1, fourth.url)).status).toBe(401);
    await endProcess(fourth, 'SIGTERM');
  });

  test('lines without end are taken in as they come: memory does not grow with them', async () => {
    // The same thousand messages over and over, and one that is much too long: 40 MB.
    const lines = Array.from({ length: 1000 }, () => JSON.stringify(signOut({ properties: { text: 'y'.repeat(100) } }))).join('\n');
    const chunk = new TextEncoder().encode(`${lines}\n`);
    const chunks = Math.ceil(40_000_000 / chunk.byteLength);
    let sent = 0;
    const body = new ReadableStream<Uint8Array>({
      pull(c) {
        if (sent === 1) for (let i = 0; i < 30; i++) c.enqueue(new Uint8Array(100_000).fill(120));
        if (sent === 1) c.enqueue(new TextEncoder().encode('\n'));
        if (sent++ < chunks) c.enqueue(chunk);
        else c.close();
      },
    });
    let answer!: Answer & { answersLeftOut: number };
    const more = await heldMoreDuring(server, async () => {
      const response = await fetch(`${server.url}/intake`, {
        method: 'POST',
        headers: { authorization: `Bearer ${key}`, 'content-type': 'application/x-ndjson' },
        body,
        duplex: 'half',
      } as RequestInit & { duplex: 'half' });
      answer = (await response.json()) as typeof answer;
    });
    expect(answer.acceptedWithFindings).toBe(1000);
    expect(answer.duplicates).toBe(chunks * 1000 - 1000);
    expect(answer.rejected).toBe(1);
    expect(answer.answers.length + answer.answersLeftOut).toBe(chunks * 1000 + 1);
    expect(more).toBeLessThan(30);
  });

  test('a view and an interaction are messages of their own kind; what is carried along must be known', async () => {
    const other = (more: Record<string, unknown>) => signOut({ name: undefined, ...more });
    const body = await answerOf(
      await send(
        JSON.stringify([
          other({ kind: 'view', page: '/tools', marks: ['internal'], consent: 'granted', environment: 'staging' }),
          other({ kind: 'interaction', properties: { element: 'button' } }),
          other({ kind: 'view' }),
          signOut({ marks: ['ghost'] }),
          signOut({ consent: 'maybe' }),
        ]),
      ),
    );
    expect(body.answers.map((a) => a.answer)).toEqual(['accepted', 'accepted', 'rejected', 'rejected', 'rejected']);
    expect(await count(`kind in ('view', 'interaction') and name = ''`)).toBe(2);
  });

  test('only fingerprints of keys are stored', async () => {
    const { rows } = await client.query<{ t: string }>(`select write_keys::text as t from write_keys`);
    expect(rows.some((r) => r.t.includes(key))).toBe(false);
  });
});

test('a change of the plan from another site is rejected; the intake is open to any origin', async () => {
  const foreign = { origin: 'http://elsewhere.example', 'content-type': 'application/json' };
  expect((await fetch(`${server.url}/api/publish`, { method: 'POST', headers: foreign, body: '{}' })).status).toBe(403);
  expect((await send(JSON.stringify([signOut()]), { origin: 'http://elsewhere.example' })).headers.get('access-control-allow-origin')).toBe(
    '*',
  );
});

test('a stale edit over HTTP is a conflict with both values', async () => {
  const edit = (after: string) => ({ edits: [{ op: 'set', kind: 'event', id: 'signed-out', field: 'notes', before: '', after }] });
  expect((await api('/api/edits', edit('one'))).status).toBe(200);
  const late = await api('/api/edits', edit('two'), second.url);
  expect(late.status).toBe(409);
  expect(await late.json()).toMatchObject({ problem: { code: 'stale', field: 'notes', mine: 'two', theirs: 'one' } });
});

/** Reads a live stream until it has so many messages, or it ends. */
const readLive = async (url: string, wanted: number, abort = new AbortController()): Promise<number[]> => {
  const response = await fetch(url, { signal: abort.signal });
  const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
  const seen: number[] = [];
  let text = '';
  try {
    while (seen.length < wanted) {
      const { done, value } = await reader.read();
      if (done) break;
      text += value;
      const parts = text.split('\n\n');
      text = parts.pop()!;
      for (const p of parts) if (p.startsWith('event: message')) seen.push(Number(/^id: (\d+)$/m.exec(p)![1]));
    }
  } catch {
    // The server went away.
  }
  abort.abort();
  return seen;
};

test('the live stream of one process shows what came in through the other, and a reconnection misses nothing', async () => {
  const { rows } = await client.query<{ m: string }>('select max(seq) as m from messages');
  const after = Number(rows[0]!.m);
  const live = readLive(`${second.url}/api/live?after=${after}`, 30);
  for (let i = 0; i < 10; i++)
    await Promise.all([send(JSON.stringify([signOut(), signOut()])), send(JSON.stringify([signOut()]), {}, second.url)]);
  const seen = await live;
  expect(seen).toHaveLength(30);
  expect(seen).toEqual([...seen].sort((a, b) => a - b));
  expect(await readLive(`${server.url}/api/live?after=${seen[9]}`, 20)).toEqual(seen.slice(10, 30));
});

test('publishing a version judges what was recorded before by it', async () => {
  const findingsOf = async (): Promise<string[]> =>
    ((await (await fetch(`${server.url}/api/findings`)).json()) as { groups: { code: string; eventName: string }[] }).groups.map(
      (g) => `${g.code} ${g.eventName}`,
    );
  expect(await findingsOf()).toContain('unknown-event signed out');
  await api('/api/edits', {
    edits: [{ op: 'set', kind: 'event', id: 'signed-out', field: 'formerNames', before: [], after: ['signed out'] }],
  });
  expect((await api('/api/publish', { note: 'the former name' })).status).toBe(200);
  await until('end of the recheck', async () => {
    const { recheck } = (await (await fetch(`${server.url}/api/workplace`)).json()) as { recheck: unknown };
    return recheck === null;
  });
  expect(await findingsOf()).not.toContain('unknown-event signed out');
});

test('killed in the midst of a stream of batches, twice: every accepted message is there, once', async () => {
  const accepted = new Set<string>();
  const sentAgain: Record<string, unknown>[][] = [];
  let running = await startProcess(databaseUrl);
  for (let round = 0; round < 2; round++) {
    let stop = false;
    const senders = Array.from({ length: 4 }, async (_, s) => {
      for (let b = 0; !stop && b < 2000; b++) {
        const batch = Array.from({ length: 50 }, (__, i) => signOut({ id: `kill-${round}-${s}-${b}-${i}` }));
        try {
          const body = await answerOf(await send(JSON.stringify(batch), {}, running.url));
          body.answers.forEach((a, i) => a.answer === 'accepted' && accepted.add(batch[i]!.id));
        } catch {
          sentAgain.push(batch);
          return;
        }
      }
    });
    // In the midst, however fast the machine is; the second time in another phase.
    const before = accepted.size;
    await until('messages accepted', () => accepted.size >= before + 150 + 70 * round);
    await endProcess(running, 'SIGKILL');
    stop = true;
    await Promise.all(senders);
    running = await startProcess(databaseUrl);
  }
  expect(accepted.size).toBeGreaterThan(200);
  expect(sentAgain.length).toBeGreaterThan(0);
  // A client that got no answer sends again: what was stored meanwhile is a duplicate, nothing is there twice.
  for (const batch of sentAgain) {
    const body = await answerOf(await send(JSON.stringify(batch), {}, running.url));
    expect(body.accepted + body.duplicates).toBe(batch.length);
    for (const m of batch) accepted.add(m['id'] as string);
  }
  const { rows } = await client.query<{ message_id: string; n: string }>(
    `select message_id, count(*) as n from messages where message_id like 'kill-%' group by message_id`,
  );
  expect(rows.filter((r) => r.n !== '1')).toEqual([]);
  const stored = new Set(rows.map((r) => r.message_id));
  expect([...accepted].filter((id) => !stored.has(id))).toEqual([]);
  expect(stored.size).toBe(accepted.size);
  await endProcess(running, 'SIGTERM');
});

// Only root may mount a small disk.
test.skipIf(process.getuid?.() !== 0)(
  'when the disk is full the intake says 503 and stores nothing of the batch; with room again all accepted messages are there, once',
  async () => {
    const ownUrl = await testDatabase('full_test', 'empty');
    const own = await startProcess(ownUrl);
    const admin = new pg.Client({ connectionString: ownUrl });
    await admin.connect();
    const disk = await smallDisk(admin);
    try {
      await api('/api/edits', { edits: publishedEdits.filter((e) => e.kind !== 'settings'), label: 'plan' }, own.url);
      const minted = await api('/api/keys', { sourceId: 'web', label: 'test' }, own.url);
      const auth = { authorization: `Bearer ${((await minted.json()) as { key: string }).key}` };
      // The first message makes this month's partition; from then on that lies on a disk of a few megabytes.
      expect((await send(JSON.stringify([signOut({ id: 'full-first' })]), auth, own.url)).status).toBe(200);
      const { rows } = await admin.query<{ name: string }>(
        `select relname as name from pg_class where relname ~ '^messages_\\d{4}_\\d\\d$'`,
      );
      await admin.query(`alter table ${rows[0]!.name} set tablespace ${disk.tablespace}`);
      const accepted = ['full-first'];
      const rejected: Record<string, unknown>[][] = [];
      let answer: Response | undefined;
      for (let b = 0; b < 200 && rejected.length < 2; b++) {
        const batch = Array.from({ length: 200 }, (_, i) =>
          signOut({ id: `full-${b}-${i}`, properties: { filler: 'x'.repeat(900) + String(i) } }),
        );
        answer = await send(JSON.stringify(batch), auth, own.url);
        if (answer.status === 200) accepted.push(...batch.map((m) => m.id));
        else rejected.push(batch);
      }
      expect([answer?.status, Number(answer?.headers.get('retry-after')) > 0]).toEqual([503, true]);
      expect(accepted.length).toBeGreaterThan(200);
      const stored = async (): Promise<string[]> =>
        (await admin.query<{ id: string }>('select message_id as id from messages order by seq')).rows.map((r) => r.id);
      expect(await stored()).toEqual(accepted);
      await admin.query(`alter table ${rows[0]!.name} set tablespace pg_default`);
      for (const batch of rejected) {
        expect(await answerOf(await send(JSON.stringify(batch), auth, own.url))).toMatchObject({
          acceptedWithFindings: 0,
          duplicates: 0,
          accepted: 200,
        });
        accepted.push(...batch.map((m) => m['id'] as string));
      }
      expect(await stored()).toEqual(accepted);
    } finally {
      await endProcess(own, 'SIGKILL');
      await disk.remove();
      await admin.end();
    }
  },
);

test('while the database is gone the intake says 503 with Retry-After, and recovers by itself', async () => {
  const ownUrl = await testDatabase('gone_test', 'empty');
  const own = await startProcess(ownUrl);
  const admin = new pg.Client({ connectionString: process.env['TEST_DATABASE_URL'] });
  await admin.connect();
  const setAllowed = (allowed: boolean) => admin.query(`update pg_database set datallowconn = $1 where datname = 'gone_test'`, [allowed]);
  try {
    await setAllowed(false);
    await admin.query(`select pg_terminate_backend(pid) from pg_stat_activity where datname = 'gone_test'`);
    await admin.query(`alter database gone_test connection limit 0`);
    const away = await fetch(`${own.url}/intake`, {
      method: 'POST',
      headers: { authorization: 'Bearer some', 'content-type': 'application/json' },
      body: '[]',
    });
    expect(away.status).toBe(503);
    expect(Number(away.headers.get('retry-after'))).toBeGreaterThan(0);
    expect((await fetch(`${own.url}/api/workplace`)).status).toBe(503);
    await setAllowed(true);
    await admin.query(`alter database gone_test connection limit -1`);
    await until('recovery', async () => (await fetch(`${own.url}/api/workplace`)).status === 200);
  } finally {
    await setAllowed(true);
    await admin.end();
    await endProcess(own, 'SIGTERM');
  }
});

test('checks over many run in the background, whoever took the messages, and without anybody looking at a page', async () => {
  const sent = await answerOf(await send(JSON.stringify([signOut(), signOut()]), {}, second.url));
  expect(sent.accepted).toBe(2);
  const newest = await client.query<{ seq: string }>('select max(seq) as seq from messages');
  const looked = async () =>
    (await client.query<{ up_to: string }>('select up_to from many_findings order by plan_version desc limit 1')).rows[0]?.up_to;
  await expect.poll(async () => Number((await looked()) ?? 0)).toBeGreaterThanOrEqual(Number(newest.rows[0]!.seq));
  const jobs = await client.query<{ name: string }>("select distinct name from pgboss.job where state = 'completed'");
  expect(jobs.rows.map((r) => r.name)).toContain('checks-over-many');
});
