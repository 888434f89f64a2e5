/** What arrives of another workspace, over HTTP: what counts, what is told apart, what is kept. Figures are checked by SQL on the stored messages. */
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { SeenPair } from '../../src/core/arrival/seen';
import type { EventProfile } from '../../src/core/arrival/profile';
import type { TriagedFinding } from '../../src/core/arrival/triage';
import type { Edit } from '../../src/core/plan/edit';
import { renameEvent } from '../../src/core/plan/rename';
import { blank } from '../../src/core/plan/defaults';
import type { Plan } from '../../src/core/plan/plan';
import type { FigureAnswer } from '../../src/core/questions/compute-figure';
import { EVERYTHING, trafficText, type TrafficSeen } from '../../src/core/table/traffic';
import { create, event, property } from '../build/plan';
import { testDatabase } from '../build/database';
import { endProcess, startProcess, type Running, requestsTo } from '../build/server';

let server: Running;
let client: pg.Client;
let key = '';

const { get, post } = requestsTo(() => server);
const edit = async (edits: readonly Edit[]): Promise<void> => {
  const r = await post('/api/edits', { edits, label: 'Change', author: 'Ines' });
  expect([r.status, r.ok ? '' : await r.text()]).toEqual([200, '']);
};
const publish = async (): Promise<void> => expect((await post('/api/publish', { note: 'next' })).status).toBe(200);
interface Answered {
  accepted: number;
  acceptedWithFindings: number;
  duplicates: number;
  answers: { answer: string; findings?: { sentence: string }[] }[];
}
const send = async (messages: readonly object[]): Promise<Answered> => {
  const r = await fetch(`${server.url}/intake`, {
    method: 'POST',
    headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' },
    body: JSON.stringify(messages),
  });
  return (await r.json()) as Answered;
};
const figure = async (formula: unknown, query = ''): Promise<FigureAnswer> => {
  const lines = (await (await post(`/api/figure${query}`, { formula })).text()).trim().split('\n');
  return (JSON.parse(lines.at(-1)!) as { answer: FigureAnswer }).answer;
};
const rows = async (where: string): Promise<number> =>
  Number((await client.query<{ n: string }>(`select count(*) as n from messages where ${where}`)).rows[0]!.n);

let n = 0;
const parcel = (more: Record<string, unknown> = {}) => ({
  id: `p-${n++}`,
  name: 'Parcel Posted',
  time: new Date(Date.now() - 3_600_000).toISOString(),
  ids: { visitor: `v-${n % 5}` },
  properties: { weight: n % 7 },
  release: '1.0',
  ...more,
});
const posted = { type: 'active persons', events: [{ eventName: 'Parcel Posted', where: [] }], period: 'day' };
const messagesIn = async (query = '', name = 'Parcel Posted'): Promise<number> => {
  const { figure: f } = await figure({ ...posted, events: [{ eventName: name, where: [] }] }, query);
  return f.type === 'active persons' ? f.messages : NaN;
};

beforeAll(async () => {
  const url = await testDatabase('true_test', 'empty');
  client = new pg.Client({ connectionString: url });
  await client.connect();
  server = await startProcess(url);
  await edit([
    create('source', 'shop', {
      name: 'Shop',
      kind: 'web',
      mark: 'S',
      idKinds: { beforeSignIn: ['visitor'], afterSignIn: ['visitor', 'member'] },
    }),
    create('identifierKind', 'visitor', { name: 'visitor', identifies: 'device', sample: 'v-sample' }),
    create('identifierKind', 'member', { name: 'member', identifies: 'person' }),
    property('weight', { type: 'number', unit: 'kg' }),
    event('posted', {
      name: 'Parcel Posted',
      properties: [{ propertyId: 'weight', required: true }],
      sources: [{ sourceId: 'shop', required: true, build: 'agreed' }],
    }),
    event('taken', { name: 'Parcel Taken', sources: [{ sourceId: 'shop', required: true, build: 'agreed' }] }),
  ]);
  await publish();
  key = ((await (await post('/api/keys', { sourceId: 'shop', label: 'test' })).json()) as { key: string }).key;
});
afterAll(async () => {
  await client.end();
  await endProcess(server, 'SIGTERM');
});

describe('before anything has come', () => {
  test('views are empty, not missing', async () => {
    expect(await get('/api/profile?event=Parcel%20Posted')).toBeNull();
    expect(await get('/api/seen')).toEqual([]);
    expect(await get('/api/traffic')).toEqual([]);
    expect(await get<{ messages: number; received: number }>('/api/findings')).toMatchObject({ messages: 0, received: 0 });
    const { figure: f } = await figure(posted);
    expect(f).toMatchObject({ messages: 0, points: [], outside: { before: 0, after: 0 } });
  });
});

describe('one ID, more than one message', () => {
  test('the same again is a duplicate, however it is laid out; other content is kept, told and counted', async () => {
    const first = parcel({ id: 'same', properties: { weight: 1, size: { w: 1, h: 2 } } });
    const again = { ...first, properties: { size: { h: 2, w: 1 }, weight: 1 } };
    const other = { ...first, properties: { weight: 2, size: { w: 1, h: 2 } } };
    const inOne = await send([first, again, other, other]);
    expect(inOne.answers.map((a) => a.answer.replace(' with findings', ''))).toEqual(['accepted', 'duplicate', 'accepted', 'duplicate']);
    const later = await send([again, other, { ...other, name: 'Parcel Taken' }]);
    expect(later.answers.map((a) => a.answer.replace(' with findings', ''))).toEqual(['duplicate', 'duplicate', 'accepted']);
    expect(await rows(`message_id = 'same'`)).toBe(3);
    const reused = async () =>
      (await get<{ groups: TriagedFinding[] }>('/api/findings')).groups.filter((g) => g.code === 'id-reused').map((g) => g.count);
    await expect.poll(reused).toEqual([2]);
    // What says the same counts once.
    expect(await messagesIn()).toBe(2);
  });
});

test('what is sent again is told in the traffic that counts, and in all of it; a part of it cannot say', async () => {
  const one = parcel({ id: 'again-and-again' });
  await send(Array.from({ length: 40 }, () => one));
  const again = async (traffic: string): Promise<number[]> =>
    (await get<{ groups: TriagedFinding[] }>(`/api/findings${traffic === '' ? '' : `?traffic=${traffic}`}`)).groups
      .filter((g) => g.code === 'sent-again')
      .map((g) => g.count);
  await expect.poll(() => again('')).toHaveLength(1);
  expect(await again(trafficText(EVERYTHING))).toEqual(await again(''));
  expect(await again('staging')).toEqual([]);
});

describe('what counts', () => {
  test('staging and marked messages count nowhere unless they are asked for; every choice adds up to what SQL counts', async () => {
    await send([
      ...Array.from({ length: 7 }, () => parcel()),
      ...Array.from({ length: 5 }, () => parcel({ environment: 'staging' })),
      ...Array.from({ length: 3 }, () => parcel({ marks: ['robot'] })),
      ...Array.from({ length: 2 }, () => parcel({ environment: 'staging', marks: ['test', 'internal'] })),
      ...Array.from({ length: 4 }, () => parcel({ consent: 'denied' })),
    ]);
    const NAME = `name = 'Parcel Posted'`;
    const isProduction = `coalesce(body->>'environment', 'production') = 'production'`;
    const isMarked = `coalesce(jsonb_array_length(body::jsonb->'marks'), 0) > 0`;
    for (const [query, where] of [
      ['', `${isProduction} and not ${isMarked}`],
      ['?traffic=staging', `body->>'environment' = 'staging' and not ${isMarked}`],
      ['?traffic=.marked', isProduction],
      ['?traffic=.only-marked', `${isProduction} and ${isMarked}`],
      ['?traffic=..denied', `body->>'consent' = 'denied'`],
      [`?traffic=${encodeURIComponent(trafficText(EVERYTHING))}`, 'true'],
    ] as const)
      expect([query, await messagesIn(query)]).toEqual([query, await rows(`${NAME} and ${where}`)]);
    const { messages, received } = await get<{ messages: number; received: number }>('/api/findings');
    expect([messages, received]).toEqual([await rows(`${isProduction} and not ${isMarked}`), await rows('true')]);
    const seen = await get<TrafficSeen[]>('/api/traffic');
    expect(Object.fromEntries(seen.map((t) => [t.environment, [t.unmarked, t.marked]]))).toEqual({
      production: [await rows(`${isProduction} and not ${isMarked}`), 3],
      staging: [5, 2],
    });
  });

  test('a faulty message that does not count makes no finding, and one where it does', async () => {
    await send([parcel({ environment: 'load test', properties: { weight: 'heavy' } })]);
    const codes = async (query: string): Promise<string[]> =>
      (await get<{ groups: TriagedFinding[] }>(`/api/findings${query}`)).groups.map((g) => g.code);
    expect(await codes('')).not.toContain('wrong-type');
    expect(await codes(`?traffic=${encodeURIComponent('load test')}`)).toContain('wrong-type');
  });
});

describe('absurd dates', () => {
  test('of 1970, 2019 and 2061 make no series endless, are counted as left out, and are told', async () => {
    const before = await messagesIn();
    const sent = await send([
      parcel({ time: '1970-01-01T00:00:00Z' }),
      parcel({ time: '2019-05-05T00:00:00Z' }),
      parcel({ time: '2061-01-01T00:00:00Z' }),
      parcel({ time: '0001-01-01T00:00:00Z' }),
    ]);
    expect(sent.accepted + sent.acceptedWithFindings).toBe(4);
    const { figure: f } = await figure(posted);
    if (f.type !== 'active persons') throw new Error(f.type);
    expect(f.points.length).toBeLessThanOrEqual(3);
    expect(f.messages).toBe(before);
    expect(f.outside).toEqual({ before: 3, after: 1 });
    const told = async () =>
      (await get<{ groups: TriagedFinding[] }>('/api/findings')).groups.filter((g) => g.code === 'implausible-time').map((g) => g.count);
    await expect.poll(async () => (await told()).sort()).toEqual([1, 3]);
  });
});

describe('arrivals set the build state, and a rename keeps the history', () => {
  test('what came is seen, with its first release; renamed with its former name it keeps all of it', async () => {
    const seen = await get<SeenPair[]>('/api/seen');
    expect(seen.map((s) => [s.eventId, s.sourceId, s.release]).sort()).toEqual([
      ['posted', 'shop', '1.0'],
      ['taken', 'shop', '1.0'],
    ]);
    const before = await messagesIn();
    const { plan } = await get<{ plan: Plan }>('/api/workplace');
    await edit(renameEvent(plan, 'posted', 'Parcel Sent', true));
    // Under the draft at once, under the version once it is published.
    expect(await messagesIn('', 'Parcel Sent')).toBe(before);
    await publish();
    await send([parcel({ name: 'Parcel Sent' })]);
    expect(await messagesIn('', 'Parcel Sent')).toBe(before + 1);
    const profile = await get<EventProfile>(`/api/profile?event=${encodeURIComponent('Parcel Sent')}`);
    expect(profile.formerNames).toEqual([{ value: 'Parcel Posted', messages: await countedOf('Parcel Posted') }]);
    expect(await get(`/api/profile?event=${encodeURIComponent('Parcel Posted')}`)).toBeNull();
  });

  const countedOf = (name: string): Promise<number> =>
    rows(
      `name = '${name}' and coalesce(body->>'environment', 'production') = 'production' and coalesce(jsonb_array_length(body::jsonb->'marks'), 0) = 0`,
    );
});

describe('persons by the version or by the draft', () => {
  test('each screen answers by the rules that it names', async () => {
    const links = async (query: string): Promise<number> => (await get<{ links: number }>(`/api/identity${query}`)).links;
    await send([parcel({ name: 'Parcel Sent', ids: { visitor: 'v-77', member: 'm-77' } })]);
    const before = await links('');
    await edit([
      create('question', 'q', {
        text: 'Who sends?',
        formula: { type: 'active persons', events: [{ eventName: 'Parcel Sent', where: [] }], period: 'day' },
      }),
    ]);
    await send([parcel({ name: 'Parcel Sent', ids: { visitor: 'v-77' } })]);
    const { plan } = await get<{ plan: Plan }>('/api/workplace');
    const [id, settings] = Object.entries(plan.settings)[0] ?? ['workspace', blank('settings')];
    const edits: Edit[] = [
      {
        op: 'set',
        kind: 'settings',
        id,
        field: 'identity',
        before: settings.identity,
        after: { ...settings.identity, links: [['visitor', 'member']] },
      },
    ];
    await edit(edits);
    expect([await links(''), await links('?rules=draft')]).toEqual([before, before + 1]);
    // Clearance goes by the version, whatever the Identity screens show.
    const persons = async (query: string): Promise<unknown> =>
      (await get<{ figure?: { points?: { persons: number }[] } }[]>(`/api/clearance${query}`)).map(
        (c) => c.figure?.points?.at(-1)?.persons,
      );
    const inForce = await persons('');
    expect(await persons('?rules=draft')).toEqual(inForce);
    await publish();
    expect(await links('')).toBe(before + 1);
    expect(await persons('')).toEqual([Number((inForce as number[])[0]) - 1]);
  });
});
