/** Whatever is sent, the server answers, keeps what it accepted, and goes on. Each case stopped it, or harmed others, at some time. */
import { randomBytes } from 'node:crypto';
import { connect, type Socket } from 'node:net';
import { gzipSync } from 'node:zlib';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { TriagedFinding } from '../../src/core/arrival/triage';
import type { Edit } from '../../src/core/plan/edit';
import type { FigureAnswer } from '../../src/core/questions/compute-figure';
import { testDatabase } from '../build/database';
import { endProcess, heldBy, heldMoreDuring, startProcess, TELLS_MEMORY, type Running, requestsTo } from '../build/server';
import { smallWorkspace } from '../build/workspace';
import { until } from '../build/wait';

let server: Running;
let client: pg.Client;
let url: string;
const keys: Record<string, string> = {};

const get = (path: string, headers: Record<string, string> = {}): Promise<Response> => fetch(server.url + path, { headers });
const { post } = requestsTo(() => server);
const edit = (edits: readonly Edit[]): Promise<Response> => post('/api/edits', { edits, label: 'Change', author: 'Ines' });
const publish = async (): Promise<void> => expect((await post('/api/publish', { note: 'next' })).status).toBe(200);

interface Answered {
  accepted: number;
  acceptedWithFindings: number;
  duplicates: number;
  rejected: number;
  answers: { answer: string; reason?: string; detail?: string; findings?: { code: string }[] }[];
}
const sendAs = (source: string, body: BodyInit, headers: Record<string, string> = {}): Promise<Response> =>
  fetch(`${server.url}/intake`, {
    method: 'POST',
    headers: { authorization: `Bearer ${keys[source]!}`, 'content-type': 'application/json', ...headers },
    body,
  });
/** Sends what is taken; where the server asks for it again, as a sender does. */
const send = (messages: readonly object[], source = 'shop'): Promise<Answered> =>
  until('answer of the intake that is no “later”', async () => {
    const answer = await sendAs(source, JSON.stringify(messages));
    const said = (await answer.json()) as Answered;
    return answer.status === 503 ? undefined : said;
  });

let n = 0;
const parcel = (more: Record<string, unknown> = {}) => ({
  id: `h-${n++}`,
  name: 'Parcel Posted',
  time: new Date(Date.now() - 60_000).toISOString(),
  ids: { visitor: `v-${n % 5}` },
  properties: { code: `C${n % 7}` },
  release: '1.0',
  ...more,
});
const stored = async (where = 'true'): Promise<number> =>
  Number((await client.query<{ n: string }>(`select count(*) as n from messages where ${where}`)).rows[0]!.n);
const isUp = async (): Promise<void> => {
  expect([server.child.exitCode, server.child.signalCode]).toEqual([null, null]);
  expect((await get('/api/alive')).status).toBe(200);
};

beforeAll(async () => {
  url = await testDatabase('hostile_test', 'empty');
  client = new pg.Client({ connectionString: url });
  client.on('error', () => undefined);
  await client.connect();
  server = await startProcess(url, TELLS_MEMORY);
  keys['shop'] = await smallWorkspace(server.url);
  keys['desk'] = ((await (await post('/api/keys', { sourceId: 'desk', label: 'test' })).json()) as { key: string }).key;
});
afterAll(async () => {
  await client.end().catch(() => undefined);
  if (server.child.exitCode === null) await endProcess(server, 'SIGTERM');
});

test('times of other ages are taken, and every view answers with bounded series', async () => {
  const times = ['0001-01-01T00:00:00Z', '1970-01-01T00:00:00Z', '9999-12-31T23:59:59Z', '1999-12-31T23:59:59Z'];
  const answered = await send(times.map((time) => parcel({ time })));
  expect(answered.rejected).toBe(0);
  const views = [
    'findings',
    'matrix',
    'volume',
    'counts',
    'identity',
    'identity-health',
    'traffic',
    'arrived',
    'seen',
    'clearance',
    'user-properties',
  ];
  for (const view of views) expect([view, (await get(`/api/${view}`)).status]).toEqual([view, 200]);
  for (const period of ['day', 'week', 'month']) {
    const text = await (
      await post('/api/figure', { formula: { type: 'active persons', events: [{ eventName: 'Parcel Posted', where: [] }], period } })
    ).text();
    const { figure } = (JSON.parse(text.trim().split('\n').at(-1)!) as { answer: FigureAnswer }).answer;
    expect(figure.type === 'active persons' && figure.points.length).toBeLessThanOrEqual(400);
  }
});

describe('patterns', () => {
  test('one that a matcher with backtracking never ends on holds nobody up', async () => {
    const set = (before: string, after: string): Promise<Response> =>
      edit([{ op: 'set', kind: 'property', id: 'code', field: 'pattern', before, after }]);
    expect((await set('', '^(a+)+$')).status).toBe(200);
    await publish();
    const { answers } = await send([parcel({ properties: { code: `${'a'.repeat(50_000)}!` } }), parcel({ properties: { code: 'aaa' } })]);
    expect(answers[0]!.findings!.map((f) => f.code)).toContain('pattern-mismatch');
    expect(answers[1]!.answer).toBe('accepted');
    const rejected = await set('^(a+)+$', '^(?=a)');
    expect([rejected.status, ((await rejected.json()) as { detail: string }).detail]).toEqual([
      400,
      expect.stringContaining('looks ahead'),
    ]);
    expect((await set('^(a+)+$', '')).status).toBe(200);
    await publish();
  });
});

describe('PostgreSQL', () => {
  test('every connection ended, again and again under load: the server stays, and what was accepted is there once', async () => {
    const accepted = new Set<string>();
    let over = false;
    const load = Promise.all(
      Array.from({ length: 4 }, async () => {
        while (!over) {
          const batch = Array.from({ length: 20 }, () => parcel({ release: 'load' }));
          const response = await sendAs('shop', JSON.stringify(batch)).catch(() => undefined);
          if (response?.ok) for (const m of batch) accepted.add(m.id);
          await response?.body?.cancel().catch(() => undefined);
        }
      }),
    );
    const look = Promise.all(
      Array.from({ length: 2 }, async () => {
        while (!over)
          for (const path of ['/api/findings', '/api/identity', '/api/workplace']) await (await get(path).catch(() => undefined))?.text();
      }),
    );
    for (let i = 0; i < 25; i++) {
      await client.query(
        `select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid()`,
      );
      // It takes messages again before the next time.
      const before = accepted.size;
      await until('messages accepted', () => accepted.size > before);
    }
    over = true;
    await load;
    await look;
    await isUp();
    expect(accepted.size).toBeGreaterThan(100);
    const { rows } = await client.query<{ message_id: string }>(`select message_id from messages where release = 'load'`);
    const ids = rows.map((r) => r.message_id);
    expect(new Set(ids).size).toBe(ids.length);
    const there = new Set(ids);
    expect([...accepted].filter((id) => !there.has(id))).toEqual([]);
    await expect.poll(async () => (await get('/api/health')).status).toBe(200);
  });
});

describe('names', () => {
  test.each([
    ['a property', { properties: { ['x'.repeat(4000)]: 1 } }, 'properties'],
    ['a user property', { user_properties: { ['x'.repeat(4000)]: 1 } }, 'user_properties'],
    ['a kind of identifier', { ids: { ['k'.repeat(3000)]: 'v' } }, 'ids'],
    ['a release', { release: 'r'.repeat(5000) }, 'release'],
    ['an environment', { environment: 'e'.repeat(500) }, 'environment'],
    ['a page', { page: 'p'.repeat(9000) }, 'page'],
    ['an identifier', { ids: { visitor: 'v'.repeat(10_001) } }, 'ids.visitor'],
    ['many kinds', { ids: Object.fromEntries(Array.from({ length: 51 }, (_, i) => [`k${i}`, 'v'])) }, 'ids'],
  ])('%s beyond its bound is rejected by name; the others of the batch are kept', async (_, more, field) => {
    const { answers } = await send([parcel(), parcel(more), parcel()]);
    expect(answers.map((a) => a.answer).filter((a) => a === 'rejected')).toHaveLength(1);
    expect(answers[1]).toMatchObject({
      answer: 'rejected',
      reason: 'bad field',
      detail: expect.stringContaining(`\`${field}\``) as string,
    });
  });

  test('one that the database cannot hold is rejected alone, whoever’s group it was in', async () => {
    await client.query(`create function refuse_poison() returns trigger language plpgsql as $$ begin
      if new.name = 'Poison' then raise exception 'cannot be held' using errcode = '22023'; end if; return new; end $$`);
    await client.query('create trigger poison before insert on messages for each row execute function refuse_poison()');
    const before = await stored();
    const [bad, ...good] = await Promise.all([
      send([parcel(), parcel({ name: 'Poison' }), parcel()]),
      ...Array.from({ length: 6 }, () => send([parcel(), parcel()], 'desk')),
    ]);
    expect(bad.answers.map((a) => a.answer.replace(' with findings', ''))).toEqual(['accepted', 'rejected', 'accepted']);
    expect(bad.answers[1]).toMatchObject({ reason: 'not storable' });
    expect(good.every((g) => g.rejected === 0 && g.accepted + g.acceptedWithFindings === 2)).toBe(true);
    expect(await stored()).toBe(before + 14);
    await client.query('drop trigger poison on messages');
  });
});

describe('files of messages', () => {
  const bring = (texts: readonly object[], headers: Record<string, string> = { authorization: `Bearer ${keys['shop']!}` }) =>
    post('/api/backfill', { texts: texts.map((t) => JSON.stringify(t)) }, headers);

  test('need a key', async () => {
    expect((await bring([parcel()], {})).status).toBe(401);
    expect((await bring([parcel()], { authorization: 'Bearer spk_wrong' })).status).toBe(401);
  });

  test('of any age: what cannot be is rejected line by line, and tables stay few', async () => {
    const years = Array.from({ length: 400 }, (_, i) => parcel({ time: `${String(i * 20 + 1).padStart(4, '0')}-03-01T00:00:00Z` }));
    const months = Array.from({ length: 600 }, (_, i) => parcel({ time: new Date(Date.now() - (i + 1) * 31 * 86_400_000).toISOString() }));
    const answer = (await (await bring([...years, ...months])).json()) as {
      accepted: number;
      rejected: { index: number; detail: string }[];
    };
    expect(answer.accepted + answer.rejected.length).toBe(1000);
    expect(answer.rejected.length).toBeGreaterThan(800);
    expect(answer.rejected[0]!.detail).toContain('more than 10 years ago');
    const { rows } = await client.query<{ n: string }>(`select count(*) as n from pg_inherits where inhparent = 'messages'::regclass`);
    expect(Number(rows[0]!.n)).toBeLessThan(260);
    expect((await get('/api/findings')).status).toBe(200);
  });
});

describe('files of lines', () => {
  const bringLines = (body: BodyInit, headers: Record<string, string> = {}): Promise<Response> =>
    fetch(`${server.url}/api/backfill`, {
      method: 'POST',
      headers: { authorization: `Bearer ${keys['shop']!}`, 'content-type': 'application/x-ndjson', ...headers },
      body,
      ...(body instanceof ReadableStream ? { duplex: 'half' } : {}),
    });

  test('of any length: each line is answered for, those rejected by their place, those that came before are not taken twice', async () => {
    const at = (i: number): string => new Date(Date.now() - 86_400_000 - i * 1000).toISOString();
    const messages = Array.from({ length: 7000 }, (_, i) => parcel({ time: at(i) }));
    const lines = messages.map((m) => JSON.stringify(m));
    lines[1500] = '{"id": "cut off';
    lines[4200] = JSON.stringify(parcel({ time: '1850-01-01T00:00:00Z' }));
    lines[6999] = lines[3]!;
    const before = await stored();
    const body = `${lines.join('\n')}\n\n`;
    const answer = (await (await bringLines(body)).json()) as {
      accepted: number;
      duplicates: number;
      rejected: { index: number; detail: string }[];
    };
    expect([answer.accepted, answer.duplicates]).toEqual([6997, 1]);
    expect(answer.rejected.map((r) => r.index)).toEqual([1500, 4200]);
    expect(answer.rejected[1]!.detail).toContain('more than 10 years ago');
    expect(await stored()).toBe(before + 6997);
    // It counts as received when it happened: a history was not late.
    const { rows } = await client.query<{ late: string }>(
      `select count(*) as late from messages where message_id = any($1) and received_at <> occurred_at`,
      [messages.map((m) => m.id)],
    );
    expect(Number(rows[0]!.late)).toBe(0);
    const again = (await (await bringLines(body)).json()) as { accepted: number; duplicates: number };
    expect([again.accepted, again.duplicates]).toEqual([0, 6998]);
    expect(await stored()).toBe(before + 6997);
  });

  test('one that cannot be read on says how much was taken; a wrong key says so', async () => {
    const lines = Array.from({ length: 3000 }, () => `${JSON.stringify(parcel())}\n`).join('');
    const packed = gzipSync(Buffer.from(lines + Array.from({ length: 3000 }, () => `${JSON.stringify(parcel())}\n`).join('')));
    const before = await stored();
    const broken = await bringLines(new Uint8Array(packed.subarray(0, packed.length - 2000)), { 'content-encoding': 'gzip' });
    expect(broken.status).toBe(400);
    const told = /The first ([\d,]+) lines are taken in; sent again they count once\./.exec(
      ((await broken.json()) as { detail: string }).detail,
    );
    expect(Number(told![1]!.replaceAll(',', ''))).toBe((await stored()) - before);
    expect((await bringLines(lines, { authorization: 'Bearer spk_wrong' })).status).toBe(401);
    expect((await bringLines('\n\n')).status).toBe(200);
    await isUp();
  });
});

describe('event streams', () => {
  const stream = (after: number): Promise<Socket> =>
    new Promise((ready) => {
      const s = connect(Number(new URL(server.url).port), '127.0.0.1', () => {
        s.write(`GET /api/live?after=${after} HTTP/1.1\r\nhost: 127.0.0.1\r\n\r\n`);
        s.once('data', () => ready(s));
      });
      s.on('error', () => undefined);
    });

  test('who does not read is cut off; who reads misses nothing', async () => {
    const { rows } = await client.query<{ m: string }>('select max(seq) as m from messages');
    const after = Number(rows[0]!.m);
    const idle = await Promise.all(Array.from({ length: 20 }, () => stream(after)));
    for (const s of idle) s.pause();
    let closed = 0;
    for (const s of idle) s.once('close', () => closed++);
    const seen: number[] = [];
    const over = new AbortController();
    const reading = fetch(`${server.url}/api/live?after=${after}`, { signal: over.signal }).then(async (response) => {
      const reader = response.body!.getReader();
      const decoder = new TextDecoder();
      for (let text = ''; ;) {
        const { value, done } = await reader.read();
        if (done) return;
        const parts = (text + decoder.decode(value, { stream: true })).split('\n\n');
        text = parts.pop()!;
        for (const p of parts) if (p.startsWith('event: message')) seen.push(Number(/^id: (\d+)$/m.exec(p)![1]));
      }
    });
    const wide = 'w'.repeat(20_000);
    const before = (await heldBy(server)).held;
    let sent = 0;
    for (let i = 0; i < 30; i++)
      sent += (await send(Array.from({ length: 20 }, () => parcel({ properties: { code: wide } })))).answers.length;
    await expect.poll(() => seen.length).toBe(sent);
    expect(seen).toEqual([...seen].sort((a, b) => a - b));
    over.abort();
    await reading.catch(() => undefined);
    // 12 MB for each of them, 240 in all, are not kept.
    expect((await heldBy(server)).held - before).toBeLessThan(100);
    const sentAt = Date.now();
    // One of them reads again and has all of it; the others are cut off in the end.
    let late = '';
    idle[0]!.on('data', (d: Buffer) => (late += d.toString()));
    idle[0]!.resume();
    await expect.poll(() => late.split('event: message').length - 1).toBe(sent);
    await expect
      .poll(() => {
        // What is left in the socket of who was cut off is read out, so that its end is seen.
        for (const s of idle.slice(1)) if (Date.now() - sentAt > 17_000) s.resume();
        return closed;
      })
      .toBe(19);
    await isUp();
  });

  test('more than can be served are asked to come again', async () => {
    const many = await Promise.all(Array.from({ length: 500 }, () => stream(1e15)));
    const more = await get('/api/live?after=0');
    expect([more.status, more.headers.get('retry-after')]).toEqual([503, '5']);
    for (const s of many) s.destroy();
    await expect
      .poll(async () => {
        const again = await get('/api/live?after=0');
        await again.body?.cancel();
        return again.status;
      })
      .toBe(200);
  });
});

test('a question with 5,000 groups shows the largest, says how many more there are, and holds nothing up', async () => {
  for (let k = 0; k < 5; k++) await send(Array.from({ length: 1000 }, (_, i) => parcel({ properties: { code: `group ${k * 1000 + i}` } })));
  const order: string[] = [];
  const answer = post('/api/figure', {
    formula: {
      type: 'active persons',
      events: [{ eventName: 'Parcel Posted', where: [] }],
      period: 'day',
      groupBy: { of: 'property', name: 'code' },
    },
  }).then((r) => r.text());
  void answer.then(() => order.push('figure'));
  // Asked for after it, answered before it.
  await get('/api/alive');
  order.push('alive');
  const { groups, moreGroups } = (JSON.parse((await answer).trim().split('\n').at(-1)!) as { answer: FigureAnswer }).answer;
  expect(groups!.length).toBeLessThanOrEqual(13);
  expect(groups!.length + moreGroups).toBeGreaterThanOrEqual(5000);
  expect(order).toEqual(['alive', 'figure']);
});

describe('packed bodies', () => {
  test('empty lines without end, and lines that are too long, take no memory and stop at a bound', async () => {
    const lines = (body: Uint8Array<ArrayBuffer>): Promise<Response> =>
      sendAs('shop', body, { 'content-type': 'application/x-ndjson', 'content-encoding': 'gzip' });
    // Of these, one in forty bytes is random.
    const long = `${Array.from({ length: 48 }, () => randomBytes(500).toString('hex') + 'x'.repeat(39_000)).join('')}\n`;
    // What is much alike packs well, and is taken.
    const alike = Array.from({ length: 3000 }, () => JSON.stringify(parcel({ properties: { code: 'a'.repeat(300) } }))).join('\n');
    const more = await heldMoreDuring(server, async () => {
      const blank = await lines(new Uint8Array(gzipSync(Buffer.alloc(300_000_000, 10))));
      expect([blank.status, await blank.json()]).toMatchObject([413, { error: 'packed too tightly' }]);
      const answer = (await (await lines(new Uint8Array(gzipSync(long.repeat(20), { level: 1 })))).json()) as Answered;
      expect([answer.rejected, answer.accepted]).toEqual([20, 0]);
      const much = await lines(new Uint8Array(gzipSync(long.repeat(110), { level: 1 })));
      expect([much.status, await much.json()]).toMatchObject([413, { error: 'too large' }]);
      expect(((await (await lines(new Uint8Array(gzipSync(alike, { level: 9 })))).json()) as Answered).accepted).toBe(3000);
    });
    expect(more).toBeLessThan(100);
    await isUp();
  });

  test('a body that never comes holds nothing up, and takes no memory before it comes', async () => {
    const before = (await heldBy(server)).held;
    const slow = await Promise.all(
      Array.from(
        { length: 100 },
        () =>
          new Promise<Socket>((ready) => {
            const s = connect(Number(new URL(server.url).port), '127.0.0.1', () => {
              s.write(
                `POST /intake HTTP/1.1\r\nhost: 127.0.0.1\r\nauthorization: Bearer ${keys['shop']!}\r\ncontent-length: 9000000\r\n\r\n[`,
              );
              ready(s);
            });
            s.on('error', () => undefined);
          }),
      ),
    );
    expect((await send([parcel()])).accepted).toBe(1);
    expect((await heldBy(server)).held - before).toBeLessThan(50);
    for (const s of slow) s.destroy();
    await isUp();
  });
});

describe('message IDs', () => {
  test('are a source’s own: another source’s take none of them away, and it is told', async () => {
    const id = `order-${Date.now()}`;
    expect((await send([parcel({ id })], 'shop')).duplicates).toBe(0);
    expect((await send([parcel({ id, properties: { code: 'other' } })], 'desk')).duplicates).toBe(0);
    expect((await send([parcel({ id, properties: { code: 'other' } })], 'desk')).accepted).toBe(1);
    expect(await stored(`message_id = '${id}'`)).toBe(3);
    const retried = parcel({ id: `${id}-r` });
    expect((await send([retried, retried])).duplicates).toBe(1);
    expect((await send([retried])).duplicates).toBe(1);
    await expect
      .poll(
        async () =>
          ((await (await get('/api/findings')).json()) as { groups: TriagedFinding[] }).groups.find((g) => g.code === 'id-elsewhere')
            ?.sourceId,
      )
      .toBe('desk');
  });
});

describe('rejections', () => {
  const letters = async (like: string) =>
    (await (await get(`/api/dead-letters?like=${encodeURIComponent(like)}`)).json()) as { text: string; sourceId: string }[];

  test('with a NUL in what they say are kept, and nobody evicts another’s', async () => {
    await send([parcel({ ids: { ['a\0b']: {} }, properties: { code: 'nul-in-a-key' } })]);
    expect(await letters('nul-in-a-key')).toHaveLength(1);
    await sendAs('desk', 'a line of the desk that is no JSON', { 'content-type': 'application/x-ndjson' });
    for (let i = 0; i < 3; i++)
      await sendAs('shop', Array.from({ length: 4000 }, (_, k) => `no JSON ${i} ${k}`).join('\n'), {
        'content-type': 'application/x-ndjson',
      });
    expect(await letters('a line of the desk')).toHaveLength(1);
    // Of another reason at the same source, too.
    expect(await letters('nul-in-a-key')).toHaveLength(1);
    const { rows } = await client.query<{ n: string }>('select count(*) as n from dead_letters');
    expect(Number(rows[0]!.n)).toBeLessThan(12_000);
  });
});

describe('slips', () => {
  const set = (id: string, body: unknown) =>
    post('/api/edits', { edits: [{ op: 'create', kind: 'source', id, body }], label: 'x', author: 'y' });
  const cases: readonly (readonly [string, () => Promise<Response>, number])[] = [
    ['a number beyond all versions', () => get('/api/version?number=1e308'), 400],
    ['a version that is no number', () => get('/api/version?number=x'), 400],
    ['changes of such a version', () => get('/api/changes?version=1e308'), 400],
    ['history before such a change', () => get('/api/history?before=1e308'), 400],
    ['a plan at no date', () => get('/api/plan-at?at=never'), 400],
    ['the schema of what every object has', () => get('/api/schema/constructor'), 404],
    ['a key for what every object has', () => post('/api/keys', { sourceId: 'constructor', label: 'x' }), 404],
    ['a key for a prototype', () => post('/api/keys', { sourceId: '__proto__', label: 'x' }), 404],
    ['an entity called as a prototype', () => set('__proto__', {}), 400],
    ['an entity called as what every object has', () => set('toString', {}), 400],
    ['a NUL in a text', () => post('/api/keys', { sourceId: 'shop', label: 'a\0b' }), 400],
    ['a NUL in a parameter', () => get('/api/logbook?kind=a%00&value=b%00'), 404],
    ['a NUL in a search', () => get('/api/dead-letters?like=%00'), 400],
    ['half a letter in a text', () => post('/api/keys', { sourceId: 'shop', label: '\ud800' }), 200],
    ['a body that is no JSON', () => fetch(`${server.url}/api/edits`, { method: 'POST', body: '{' }), 400],
    ['another method', () => post('/api/matrix', {}), 405],
    ['another method of the intake', () => get('/intake'), 405],
    ['what is not there', () => get('/api/nothing'), 404],
    ['pictures on request', () => get('/_image?href=/favicon.svg&w=9000&f=webp'), 404],
    ['an origin that is none', () => post('/api/publish', { note: 'x' }, { origin: 'garbage' }), 403],
    ['another site', () => post('/api/publish', { note: 'x' }, { origin: 'https://evil.example' }), 403],
    ['many numbers that are none', () => get('/api/messages?seq=1,x'), 400],
    ['a number of a message beyond all', () => get('/api/messages?seq=9007199254740993'), 400],
    ['a limit that is none', () => get('/api/messages?limit=-1e9'), 200],
    ['traffic that is none', () => get('/api/findings?traffic=%7B'), 200],
  ];
  test.each(cases)('%s', async (_, ask, status) => {
    const response = await ask();
    expect([response.status, response.headers.get('x-content-type-options')]).toEqual([status, 'nosniff']);
    await isUp();
  });
});

describe('doors', () => {
  const asHost = (host: string, path = '/api/workplace', method = 'GET'): Promise<number> =>
    new Promise((done, fail) => {
      const s = connect(Number(new URL(server.url).port), '127.0.0.1', () =>
        s.write(`${method} ${path} HTTP/1.1\r\nhost: ${host}\r\nconnection: close\r\ncontent-length: 0\r\n\r\n`),
      );
      let text = '';
      s.on('data', (d) => (text += d.toString()));
      s.on('close', () => done(Number(/^HTTP\/1\.1 (\d+)/.exec(text)![1])));
      s.on('error', fail);
    });

  test('a page under another name that points here reads nothing and changes nothing', async () => {
    expect(await asHost('127.0.0.1')).toBe(200);
    for (const [path, method] of [
      ['/api/workplace', 'GET'],
      ['/api/keys', 'POST'],
      ['/api/live', 'GET'],
      ['/', 'GET'],
      ['/api/health', 'GET'],
    ] as const)
      expect([path, await asHost('evil.example', path, method)]).toEqual([path, 421]);
    // The intake is open under any name: a key is what it goes by.
    expect(await asHost('evil.example', '/intake', 'POST')).toBe(401);
  });

  test('a page may run what it was sent with, and be framed by nobody else', async () => {
    const page = await get('/questions');
    const policy = page.headers.get('content-security-policy')!;
    expect(policy).toMatch(/script-src 'self' 'sha256-/);
    expect(policy).toContain("frame-ancestors 'self'");
    expect(page.headers.get('referrer-policy')).toBe('same-origin');
    expect((await get('/api/workplace')).headers.get('content-security-policy')).toContain("default-src 'none'");
  });

  test('each answer has the ID of its request, the one that was given where it is plain', async () => {
    expect((await get('/api/alive', { 'x-request-id': 'abc-1' })).headers.get('x-request-id')).toBe('abc-1');
    expect((await get('/api/alive', { 'x-request-id': 'a b"' })).headers.get('x-request-id')).toMatch(/^[0-9a-f-]{36}$/);
  });

  test('a key in the body, as a beacon sends it; in no address', async () => {
    const beacon = (key: string): Promise<Response> =>
      fetch(`${server.url}/intake`, {
        method: 'POST',
        headers: { 'content-type': 'text/plain' },
        body: JSON.stringify({ key, messages: [parcel()] }),
      });
    expect([(await beacon(keys['shop']!)).status, (await beacon('spk_wrong')).status]).toEqual([200, 401]);
  });

  test('a key that has ended is known everywhere at once', async () => {
    const other = await startProcess(url);
    try {
      const { key } = (await (await post('/api/keys', { sourceId: 'shop', label: 'short' })).json()) as { key: string };
      const there = (): Promise<Response> =>
        fetch(`${other.url}/intake`, {
          method: 'POST',
          headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' },
          body: JSON.stringify([parcel()]),
        });
      expect((await there()).status).toBe(200);
      const list = (await (await get('/api/keys?source=shop')).json()) as { id: number; label: string }[];
      expect((await post('/api/keys', { end: list.find((k) => k.label === 'short')!.id, hours: 0 })).status).toBe(200);
      await expect.poll(async () => (await there()).status).toBe(401);
    } finally {
      await endProcess(other, 'SIGTERM');
    }
  });

  test('wrong keys without end are turned away before the database is asked; a right one goes on', async () => {
    const wrong = (): Promise<Response> =>
      fetch(`${server.url}/intake`, {
        method: 'POST',
        headers: { authorization: `Bearer spk_${Math.random()}`, 'content-length': '2' },
        body: '[]',
      });
    await send([parcel()]);
    const statuses = new Set<number>();
    for (let i = 0; i < 80; i++) statuses.add((await wrong()).status);
    expect([...statuses]).toEqual([401, 429]);
    expect(Number((await wrong()).headers.get('retry-after'))).toBeGreaterThan(0);
    expect((await send([parcel()])).accepted).toBe(1);
  });
});

test('the log of the database quotes nothing of what was sent', async () => {
  const secret = `secret-${Date.now()}`;
  await send([parcel({ id: secret })]);
  // The same key once more, as a group that meets a known ID writes it.
  const { rows: keyRows } = await client.query<{ source_id: string }>(`select source_id from message_keys where message_id = $1`, [secret]);
  const again = client.query(`insert into message_keys (workspace_id, message_id, source_id, content) values (1, $1, $2, '')`, [
    secret,
    keyRows[0]!.source_id,
  ]);
  await expect(again).rejects.toThrow('duplicate key');
  const { rows } = await client.query<{ log: string }>(`select pg_read_file(pg_current_logfile()) as log`);
  expect(rows[0]!.log).toContain('duplicate key value');
  expect(rows[0]!.log).not.toContain(secret);
});

test('without the database it lives, and is not ready', async () => {
  const name = new URL(url).pathname.slice(1);
  const admin = new pg.Client({ connectionString: process.env['TEST_DATABASE_URL'] });
  await admin.connect();
  await client.end();
  await admin.query(`alter database ${name} allow_connections false`);
  await admin.query(`select pg_terminate_backend(pid) from pg_stat_activity where datname = '${name}'`);
  try {
    await expect.poll(async () => (await get('/api/health')).status).toBe(503);
    expect((await get('/api/alive')).status).toBe(200);
  } finally {
    await admin.query(`alter database ${name} allow_connections true`);
    await admin.end();
  }
  await expect.poll(async () => (await get('/api/health')).status).toBe(200);
});

test('told to stop it stops', async () => {
  await endProcess(server, 'SIGTERM');
  expect([server.child.exitCode, server.child.signalCode]).toEqual([0, null]);
});
