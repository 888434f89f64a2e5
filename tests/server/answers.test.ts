/** What readers are given over HTTP: pages, feed, picture; tokens; and that they say what clearance says. */
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Answers } from '../../src/core/clearance/answer';
import type { Bridge } from '../../src/core/clearance/bridge';
import type { QuestionClearance } from '../../src/core/clearance/question-clearance';
import { headlineOf } from '../../src/core/questions/formulas/computations';
import type { ReadToken } from '../../src/core/api/read-tokens';
import { testDatabase } from '../build/database';
import { endProcess, startProcess, type Running } from '../build/server';
import { until } from '../build/wait';

let server: Running;
let empty: Running;
beforeAll(async () => {
  const [full, bare] = [await testDatabase('answers_test', { visitors: 700, seed: 31 }), await testDatabase('no_answers_test', 'empty')];
  server = await startProcess(full);
  empty = await startProcess(bare);
});
afterAll(() => Promise.all([server, empty].map((s) => endProcess(s, 'SIGTERM'))));

const post = (path: string, body: unknown, at = server): Promise<Response> =>
  fetch(at.url + path, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });
const tokenFor = async (label: string, at = server): Promise<string> =>
  ((await (await post('/api/read-tokens', { label, author: 'Ana' }, at)).json()) as { token: string }).token;
const page = async (path: string, at = server): Promise<[number, string]> => {
  const r = await fetch(at.url + path);
  return [r.status, await r.text()];
};
const bearer = (token: string): { headers: Record<string, string> } => ({ headers: { authorization: `Bearer ${token}` } });
const feed = async (token: string): Promise<Answers> => {
  return until('answers', async () => {
    const r = await fetch(`${server.url}/api/answers`, bearer(token));
    // The figures as they would be come a little later.
    const all = r.status === 200 ? ((await r.json()) as Answers) : undefined;
    return all?.answers.some((a) => a.corrected) ? all : undefined;
  });
};

test('the feed says of each question what clearance and the bridge say: signal, figure, corrected figure', async () => {
  const all = await feed(await tokenFor('a test'));
  const clearances = (await (await fetch(`${server.url}/api/clearance`)).json()) as QuestionClearance[];
  expect(all).toMatchObject({ workspace: 'Oddment', version: 1 });
  expect(all.answers.map((a) => a.questionId).sort()).toEqual(clearances.map((c) => c.questionId).sort());
  let numbers = 0;
  let corrected = 0;
  for (const a of all.answers) {
    const c = clearances.find((x) => x.questionId === a.questionId)!;
    expect([a.questionId, a.signal, a.untrusted]).toEqual([a.questionId, c.signal, c.signal === 'stop']);
    expect(a.gates.map((g) => [g.gate, g.signal])).toEqual(c.gates.map((g) => [g.gate, g.signal]));
    const value = c.figure ? (headlineOf(c.figure).value ?? null) : null;
    if (value === null) expect(a.value).toBeNull();
    else expect(a.value).toBeCloseTo(value, 9);
    numbers += Number(value !== null);
    if (!c.figure) continue;
    const lines = (await (await post('/api/bridge', { question: a.questionId, off: [] })).text()).trim().split('\n');
    const { answer } = JSON.parse(lines.at(-1)!) as { answer: Bridge };
    if (answer.steps.length === 0) expect([a.questionId, a.corrected]).toEqual([a.questionId, null]);
    else {
      expect(a.corrected!.value).toBeCloseTo(answer.asItWouldBe!, 9);
      expect(a.corrected!.steps.map((s) => s.messages)).toEqual(answer.steps.map((s) => s.messages));
      corrected++;
    }
  }
  expect(numbers).toBeGreaterThan(8);
  expect(corrected).toBeGreaterThan(2);
  // What is wrong has its day, and nothing internal of a person is in the feed.
  expect(all.answers.some((a) => a.wrong.length > 0 && a.wrong.every((w) => w.since > 0))).toBe(true);
});

test('without a token, with a wrong one or an ended one nothing is read; used ones say when', async () => {
  const token = await tokenFor('a wiki');
  const svg = '/api/answers/joining/signal.svg';
  for (const path of ['/api/answers', svg])
    for (const given of ['', '?token=spr_wrong', `?token=${encodeURIComponent("' or true --")}`]) {
      const r = await fetch(server.url + path + given);
      expect([path + given, r.status, r.headers.get('www-authenticate')]).toEqual([path + given, 401, 'Bearer']);
    }
  expect((await fetch(`${server.url}${svg}?token=${token}`)).status).toBe(200);
  const list = (await (await fetch(`${server.url}/api/read-tokens`)).json()) as ReadToken[];
  const own = list.find((t) => t.label === 'a wiki')!;
  expect(own.lastUsedAt).toBeGreaterThan(Date.now() - 60_000);
  expect(JSON.stringify(list)).not.toContain('spr_');
  expect((await post('/api/read-tokens', { end: own.id })).status).toBe(200);
  expect((await fetch(`${server.url}${svg}?token=${token}`)).status).toBe(401);
  expect((await post('/api/read-tokens', { end: own.id })).status).toBe(404);
  expect((await post('/api/read-tokens', { label: '  ', author: 'Ana' })).status).toBe(400);
});

test('feed and picture have a tag: who has it already is told so; they may be kept for a minute, by whoever asked alone', async () => {
  const token = await tokenFor('a board');
  await feed(token);
  for (const path of ['/api/answers', '/api/answers/joining/signal.svg']) {
    const first = await fetch(server.url + path, bearer(token));
    const tag = first.headers.get('etag')!;
    expect(tag).toMatch(/^"[\w-]+"$/);
    expect(first.headers.get('cache-control')).toBe('private, max-age=60');
    expect(Date.parse(first.headers.get('last-modified')!)).toBeGreaterThan(Date.now() - 600_000);
    const again = (etag: string) => fetch(server.url + path, { headers: { authorization: `Bearer ${token}`, 'if-none-match': etag } });
    const same = await again(`"other", W/${tag}`);
    // A look in between may have made it anew.
    if (same.headers.get('etag') === tag) expect([same.status, await same.text()]).toEqual([304, '']);
    expect((await again('"other"')).status).toBe(200);
  }
  const picture = await fetch(`${server.url}/api/answers/joining/signal.svg`, bearer(token));
  expect(picture.headers.get('content-type')).toBe('image/svg+xml; charset=utf-8');
  expect(await picture.text()).toContain('Who finishes joining?');
  expect((await fetch(`${server.url}/api/answers/nobody/signal.svg`, bearer(token))).status).toBe(404);
});

test('the pages are whole without a script, say what is untrusted, and what there is not', async () => {
  await feed(await tokenFor('again'));
  const [status, all] = await page('/answers');
  expect(status).toBe(200);
  expect(all).toContain('Who finishes joining?');
  expect(all).toContain('Untrusted');
  const [one, text] = await page('/answers/reservations-to-loans');
  expect(one).toBe(200);
  for (const part of ['What it means', 'What is wrong with it', 'What to use', 'History', 'Reservation Confirmed'])
    expect(text).toContain(part);
  expect((await page('/answers/nobody'))[0]).toBe(404);
  expect((await page('/answers/%E0%A4%A'))[0]).toBeGreaterThanOrEqual(400);
  const [g, glossary] = await page('/answers/glossary');
  expect(g).toBe(200);
  for (const part of ['Tool Viewed', 'tool_id', 'Trigger:', 'Ask ']) expect(glossary).toContain(part);
});

test('a workspace without a version has pages that say so, and an empty feed says why', async () => {
  const [status, all] = await page('/answers', empty);
  expect([status, all.includes('Nothing can be read here yet')]).toEqual([200, true]);
  const [g, glossary] = await page('/answers/glossary', empty);
  expect([g, glossary.includes('no published version yet')]).toEqual([200, true]);
  expect((await page('/answers/x', empty))[0]).toBe(404);
  const r = await fetch(`${empty.url}/api/answers`, bearer(await tokenFor('x', empty)));
  expect([r.status, ((await r.json()) as { error: string }).error]).toEqual([404, 'nothing looked at yet']);
});
