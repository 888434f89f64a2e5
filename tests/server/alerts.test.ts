/** Alerts over HTTP: a fault is told in the inbox, by webhook and by mail; whom nothing may be sent to; what a receiver does wrong. */
import { createServer, type IncomingHttpHeaders, type Server } from 'node:http';
import { once } from 'node:events';
import { simpleParser } from 'mailparser';
import { SMTPServer } from 'smtp-server';
import { Webhook } from 'standardwebhooks';
import { CloudEvent } from 'cloudevents';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { AlertRules } from '../../src/core/api/alert-rules';
import type { Inbox } from '../../src/core/api/alerts';
import { FIRST_RULE } from '../../src/core/alerts/default-rule';
import type { Delivery } from '../../src/core/alerts/delivery';
import type { AlertRule } from '../../src/core/alerts/rule';
import { isPrivateAddress } from '../../src/server/addresses';
import { testDatabase } from '../build/database';
import { anyPort, endProcess, startProcess, type Running, requestsTo } from '../build/server';
import { badSearches } from '../build/bad-release';
import { until } from '../build/wait';
import { lookedSince } from '../build/looks';

interface Came {
  readonly path: string;
  readonly headers: IncomingHttpHeaders;
  readonly body: string;
}

let server: Running;
let url: string;
let key: string | undefined;
let receiver: Server;
let receiverAt: string;
let smtp: SMTPServer;
const came: Came[] = [];
const mails: string[] = [];
let refusesMail = false;

beforeAll(async () => {
  receiver = createServer((request, response) => {
    let body = '';
    request.on('data', (piece: Buffer) => (body += piece.toString()));
    request.on('end', () => {
      const path = request.url ?? '';
      came.push({ path, headers: request.headers, body });
      if (path === '/moved') response.writeHead(302, { location: `${receiverAt}/elsewhere` }).end();
      else if (path === '/busy') response.writeHead(503, { 'retry-after': '3600' }).end('Too much to do.');
      else if (path !== '/never') response.writeHead(path === '/broken' ? 500 : 204).end();
    });
  }).listen(0, '127.0.0.1');
  await once(receiver, 'listening');
  receiverAt = `http://127.0.0.1:${(receiver.address() as { port: number }).port}`;
  const port = await anyPort();
  smtp = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS'],
    onRcptTo: (_, __, done) => done(refusesMail ? Object.assign(new Error('mailbox full'), { responseCode: 452 }) : null),
    onData: (stream, _, done) => {
      let text = '';
      stream.on('data', (piece: Buffer) => (text += piece.toString()));
      stream.on('end', () => {
        mails.push(text);
        done();
      });
    },
  });
  smtp.listen(port, '127.0.0.1');
  url = await testDatabase('alerts_test', { visitors: 1500, seed: 9, faults: [] });
  server = await startProcess(url, [], {
    SIGNAL_POST_PRIVATE_WEBHOOKS: 'yes',
    SIGNAL_POST_RETRY_MS: '200',
    SIGNAL_POST_SMTP: `smtp://127.0.0.1:${port}`,
  });
});
afterAll(async () => {
  await endProcess(server, 'SIGTERM');
  receiver.closeAllConnections();
  receiver.close();
  smtp.close();
});

const { get, post } = requestsTo(() => server);
const send = async (messages: unknown): Promise<Response> => {
  key ??= ((await (await post('/api/keys', { sourceId: 'web', label: 'a bad release' })).json()) as { key: string }).key;
  return fetch(`${server.url}/intake`, { method: 'POST', headers: { 'content-type': 'application/json', authorization: `Bearer ${key}` }, body: JSON.stringify(messages) }); // prettier-ignore
};
const rule = (more: Partial<AlertRule>): AlertRule => ({ ...FIRST_RULE, ...more });
const add = async (more: Partial<AlertRule>): Promise<number> => {
  const r = await post('/api/alert-rules', { add: rule(more), author: 'Ana' });
  const body = (await r.json()) as { id: number };
  expect([r.status, body]).toEqual([200, { id: expect.any(Number) as number }]);
  return body.id;
};
const detail = async (r: Response): Promise<[number, string]> => [r.status, ((await r.json()) as { detail?: string }).detail ?? ''];
const tested = async (id: number): Promise<Delivery> => {
  const { delivery } = (await (await post('/api/alert-rules', { test: id })).json()) as { delivery: string };
  return until('try', async () => (await get<Delivery[]>('/api/deliveries')).find((d) => d.id === delivery && d.tries > 0 && (d.state !== 'waiting' || d.error !== null))); // prettier-ignore
};

test('what is there at the first look is not news; a workspace begins with one rule', async () => {
  const { rules, noMail } = await until('rule', async () => {
    const found = await get<AlertRules>('/api/alert-rules');
    return found.rules.length > 0 ? found : undefined;
  });
  expect(rules).toMatchObject([{ name: 'What stops', by: 'inbox', author: 'Signal Post' }]);
  expect(noMail).toBeNull();
  expect(await get<Inbox>('/api/alerts')).toMatchObject({ alerts: [], open: 0, standing: { overdue: 0 } });
});

test('a fault that begins is told in the inbox, by webhook, signed, as a CloudEvent, and by mail, once each', async () => {
  const hook = await add({ name: 'To the team', by: 'webhook', to: `${receiverAt}/team`, sources: ['web'] });
  await add({ name: 'By mail', by: 'mail', to: 'team@example.org, other@example.org', sources: ['web'] });
  await add({ name: 'Not about this', by: 'webhook', to: `${receiverAt}/quiet`, sources: ['kiosk'], events: ['Late Fee Charged'] });
  const bad = badSearches(400, { query: { not: 'a value' }, results: 'many' });
  await send(bad);
  await until('alert of a signal', async () => (await get<Inbox>('/api/alerts')).alerts.find((a) => a.kind === 'signal fell'));
  const first = await until('webhook', () => came.find((c) => c.path === '/team'));
  const { secret } = (await (await post('/api/alert-rules', { secretOf: hook })).json()) as { secret: string };
  const headers = first.headers as Record<string, string>;
  // A receiver of the standard takes it, and takes nothing that was changed.
  expect(() => new Webhook(secret).verify(first.body, headers)).not.toThrow();
  expect(() => new Webhook(secret).verify(`${first.body} `, headers)).toThrow();
  const event = new CloudEvent<{ count: number; alerts: { text: string; link: string }[] }>(JSON.parse(first.body) as object);
  expect(event.validate()).toBe(true);
  expect(event.id).toBe(headers['webhook-id']);
  expect(event.data!.count).toBe(event.data!.alerts.length);
  expect(event.data!.alerts[0]!.link).toMatch(/^http:\/\/127\.0\.0\.1:\d+\/(clearance|arrivals)/);
  const mail = await until('mail', () => mails[0]);
  const { subject, to, text, html } = await simpleParser(mail);
  expect(subject).toMatch(/^Oddment: /);
  expect(
    [to]
      .flat()
      .map((t) => t?.text)
      .join(),
  ).toBe('team@example.org, other@example.org');
  for (const part of [text, html]) expect(part).toContain('Catalogue Searched');
  // Quiet when nothing changes: the next looks tell nothing twice.
  const ids = (): string[] => came.filter((c) => c.path === '/team').map((c) => String(c.headers['webhook-id']));
  const since = Date.now();
  await send(badSearches(1, { query: { not: 'a value' }, results: 'many' }, 'again'));
  await lookedSince(url, since);
  const causes = (await get<Inbox>('/api/alerts')).alerts.map((a) => `${a.kind} ${JSON.stringify(a.place)}`);
  expect(causes.length).toBe(new Set(causes).size);
  expect(ids().length).toBe(new Set(ids()).size);
  expect(came.some((c) => c.path === '/quiet')).toBe(false);
});

test('a sign-off that is given and taken back before anybody looks is told, once, with the reason', async () => {
  const question = 'viewers-to-borrowers';
  const sign = (more: object): Promise<Response> => post('/api/sign-offs', { questionId: question, author: 'Ana', ...more });
  await until('sign-off', async () => ((await sign({ note: 'Looked at.' })).status === 200 ? true : undefined));
  expect((await sign({ withdraw: 'Too quickly.' })).status).toBe(200);
  const told = () => get<Inbox>('/api/alerts').then(({ alerts }) => alerts.filter((a) => a.kind === 'sign-off fell' && JSON.stringify(a.place).includes(question))); // prettier-ignore
  const [first] = await until('alert', async () => ((await told()).length > 0 ? told() : undefined));
  expect(first!.says).toContain('by Ana no longer holds. Taken back by Ana: Too quickly.');
  const since = Date.now();
  await send(badSearches(1, { query: 'a', results: 0 }, 'later'));
  await lookedSince(url, since);
  expect(await told()).toHaveLength(1);
});

test('alerts of the inbox are done, put off until a day, and open again; the count follows', async () => {
  const before = await get<Inbox>('/api/alerts');
  expect(before.open).toBeGreaterThan(1);
  const [a, b] = before.alerts.filter((x) => x.doneAt === null);
  const handle = (ids: number[] | 'all', how: object): Promise<Response> => post('/api/alerts', { ids, how, author: 'Bo' });
  expect((await handle([a!.id], { done: true })).status).toBe(200);
  expect((await handle([b!.id], { snoozeUntil: Date.now() + 60_000 })).status).toBe(200);
  const after = await get<Inbox>('/api/alerts');
  expect(after.open).toBe(before.open - 2);
  expect(after.alerts.find((x) => x.id === a!.id)).toMatchObject({ doneBy: 'Bo' });
  // Done ones come last, those that are put off before them.
  expect(after.alerts.at(-1)!.id).toBe(a!.id);
  expect(after.alerts.at(-2)!.id).toBe(b!.id);
  expect(await detail(await handle([b!.id], { snoozeUntil: 5 }))).toEqual([400, 'Choose a later day to be told again.']);
  expect((await handle([a!.id], { open: true })).status).toBe(200);
  expect((await get<Inbox>('/api/alerts')).open).toBe(before.open - 1);
  expect((await handle('all', { done: true })).status).toBe(200);
  expect((await get<Inbox>('/api/alerts')).open).toBe(0);
});

test('a rule that somebody else changed is not overwritten; a removed one is gone; each says what is wrong with it', async () => {
  const id = await add({ name: 'First', by: 'webhook', to: `${receiverAt}/x` });
  const change = (rev: number, more: Partial<AlertRule>) => post('/api/alert-rules', { change: rule({ by: 'webhook', to: `${receiverAt}/x`, ...more }), id, rev, author: 'Bo' }); // prettier-ignore
  expect((await change(1, { name: 'Second' })).status).toBe(200);
  expect((await detail(await change(1, { name: 'Third' })))[0]).toBe(409);
  expect((await get<AlertRules>('/api/alert-rules')).rules.find((r) => r.id === id)).toMatchObject({
    name: 'Second',
    rev: 2,
    author: 'Bo',
  });
  expect((await post('/api/alert-rules', { remove: id })).status).toBe(200);
  for (const gone of [{ remove: id }, { test: id }]) expect((await post('/api/alert-rules', gone)).status).toBe(404);
  const bad = async (more: object): Promise<string> => {
    const [status, why] = await detail(await post('/api/alert-rules', { add: { ...rule({}), ...more }, author: 'Ana' }));
    expect([more, status]).toEqual([more, 400]);
    return why;
  };
  expect(await bad({ name: ' ' })).toContain('Give the rule a name.');
  expect(await bad({ kinds: [] })).toContain('Choose at least one thing');
  expect(await bad({ by: 'webhook', to: 'somewhere' })).toContain('is not an address');
  expect(await bad({ by: 'webhook', to: 'ftp://example.org' })).toContain('begins with https://');
  expect(await bad({ by: 'webhook', to: 'https://a:b@example.org' })).toContain('name and password');
  expect(await bad({ by: 'mail', to: '' })).toContain('at least one address');
  expect(await bad({ by: 'mail', to: 'a@b.c, nobody' })).toContain('“nobody” is not an address of mail');
  expect(await bad({ by: 'mail', to: 'a@b.c\r\nBcc: x@y.z' })).toContain('is not an address of mail');
});

describe('a receiver that', () => {
  test('moved is not followed, and it is said where to', async () => {
    const d = await tested(await add({ name: 'moved', by: 'webhook', to: `${receiverAt}/moved` }));
    expect(d).toMatchObject({ status: 302, error: expect.stringContaining('/elsewhere; enter that address if it is right') as string });
    expect(came.some((c) => c.path === '/elsewhere')).toBe(false);
  });
  test('is busy is given the time that it asks for', async () => {
    const d = await tested(await add({ name: 'busy', by: 'webhook', to: `${receiverAt}/busy` }));
    expect(d).toMatchObject({ status: 503, state: 'waiting', error: 'It answered 503: Too much to do.' });
    expect(d.nextAt).toBeGreaterThan(Date.now() + 3_500_000);
  });
  test('never answers is left after ten seconds', async () => {
    const d = await tested(await add({ name: 'never', by: 'webhook', to: `${receiverAt}/never` }));
    expect(d).toMatchObject({ status: null, error: 'It did not answer within 10 seconds.' });
  });
  test('is broken is tried again under the same ID, and once more by hand', async () => {
    const d = await tested(await add({ name: 'broken', by: 'webhook', to: `${receiverAt}/broken` }));
    const tries = () => came.filter((c) => c.headers['webhook-id'] === d.id);
    await until('second try', () => (tries().length > 1 ? true : undefined));
    expect(new Set(tries().map((t) => t.body)).size).toBe(1);
    // Each try has its own moment and signature.
    expect((await post('/api/deliveries', { again: d.id })).status).toBe(200);
    expect((await post('/api/deliveries', { again: crypto.randomUUID() })).status).toBe(404);
  });
  test('is not there is named', async () => {
    const port = await anyPort();
    const d = await tested(await add({ name: 'absent', by: 'webhook', to: `http://127.0.0.1:${port}/` }));
    expect(d.error).toBe(`Nobody listens at 127.0.0.1:${port}.`);
  });
  test('is a mailbox that is full is tried again', async () => {
    refusesMail = true;
    const d = await tested(await add({ name: 'full', by: 'mail', to: 'full@example.org' }));
    expect(d.error).toContain('mailbox full');
    expect(d.state).toBe('waiting');
    refusesMail = false;
    await until('mail', () => mails.find((m) => m.includes('full@example.org')));
  });
});

test('private networks are told from public ones', () => {
  const privates = ['127.0.0.1', '10.1.2.3', '172.31.0.1', '192.168.1.1', '169.254.169.254', '100.64.0.1', '0.0.0.0', '224.0.0.1', '::1', '::', 'fe80::1', 'fd00::1', '::ffff:127.0.0.1', '::ffff:10.0.0.1', '64:ff9b::10.0.0.1', '64:ff9b::a00:1', '::10.0.0.1', '::a00:1', '::1.1.1.1', '::ffff:0:10.0.0.1', '::ffff:0:7f00:1', '2002:a00:1::1', '2002:7f00:1::', '2001::1', '2001:0:4136:e378::1', 'fec0::1', '64:ff9b:1::a00:1', '2001:db8::1', '3fff::1', 'fe80::1%eth0', 'no address']; // prettier-ignore
  for (const a of privates) expect([a, isPrivateAddress(a)]).toEqual([a, true]);
  for (const a of [
    '1.1.1.1',
    '172.32.0.1',
    '8.8.8.8',
    '2606:4700::1111',
    '::ffff:1.1.1.1',
    '64:ff9b::101:101',
    '::ffff:0:1.1.1.1',
    '2002:101:101::1',
    '2001:4860:4860::8888',
    '2a00:1450::1',
  ])
    expect([a, isPrivateAddress(a)]).toEqual([a, false]);
});
