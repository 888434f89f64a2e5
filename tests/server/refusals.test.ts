/** What nobody should send is refused with a sentence, and never met by a fault of the server's own. */
import { request } from 'node:http';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { create } from '../build/plan';
import { testDatabase } from '../build/database';
import { endProcess, startProcess } from '../build/server';
import { until } from '../build/wait';

let server: Awaited<ReturnType<typeof startProcess>>;
beforeAll(async () => {
  server = await startProcess(await testDatabase('refusals_test', { visitors: 40, seed: 5 }));
});
afterAll(() => endProcess(server, 'SIGTERM'));

const post = async (path: string, body: object): Promise<{ status: number; detail: string; error: string }> => {
  const r = await fetch(server.url + path, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });
  const text = await r.text();
  return { status: r.status, ...(JSON.parse(text.split('\n')[0]!) as { detail: string; error: string }) };
};
const statusOf = (method: string, path: string): Promise<number> =>
  new Promise((done, fail) =>
    request(server.url + path, { method }, (r) => {
      r.resume();
      done(r.statusCode ?? 0);
    })
      .on('error', fail)
      .end(),
  );
const DAY = 86_400_000;

test('a day that has gone by is none to wait for, and what is not found cannot be acknowledged', async () => {
  const key = await until('a finding', async () => {
    const r = await fetch(`${server.url}/api/findings`);
    return r.ok ? ((await r.json()) as { groups: { key: string }[] }).groups[0]?.key : undefined;
  });
  const common = { reason: 'It is known.', author: 'Ines' };
  expect(await post('/api/findings', { key, until: 5, ...common })).toMatchObject({ status: 400, detail: 'The day has gone by; choose a later one.' }); // prettier-ignore
  const unknown = await post('/api/findings', { key: 'no such key', until: Date.now() + DAY, ...common });
  expect([unknown.status, unknown.error]).toEqual([404, 'no such finding']);
  expect((await post('/api/findings', { key, until: Date.now() + DAY, ...common })).status).toBe(200);
  expect((await post('/api/alerts', { ids: 'all', how: { snoozeUntil: 5 }, author: 'Ines' })).status).toBe(400);
});

test('a rule is about what the plan has', async () => {
  const rule = { name: 'R', active: true, kinds: ['signal fell'], severity: 'caution', questions: [], events: [], sources: [], owners: [], by: 'inbox', to: '', pace: 'at once' }; // prettier-ignore
  for (const [list, word] of [
    ['questions', 'question'],
    ['events', 'event'],
    ['sources', 'source'],
  ] as const)
    // prettier-ignore
    expect(await post('/api/alert-rules', { add: { ...rule, [list]: ['nowhere'] }, author: 'Ines' })).toMatchObject({
      status: 400,
      error: 'not in the plan',
      detail: `There is no ${word} “nowhere” in the plan; leave it out, or choose another.`,
    });
  expect((await post('/api/alert-rules', { add: { ...rule, events: ['Tool Viewed'], owners: ['Nobody yet'] }, author: 'Ines' })).status).toBe(200); // prettier-ignore
});

test('a question that is in the draft alone has no figure as it would be, and that is said', async () => {
  const add = create('question', 'drafted', { text: 'Who drafts?', order: 9 });
  expect((await post('/api/edits', { edits: [add], label: 'drafted', author: 'Ines' })).status).toBe(200);
  expect(await post('/api/bridge', { question: 'drafted', off: [] })).toMatchObject({ status: 409, error: 'not published', detail: expect.stringContaining('in the draft alone') as string }); // prettier-ignore
  expect(await post('/api/bridge', { question: 'nowhere', off: [] })).toMatchObject({ status: 404, error: 'no such question' });
});

test('what every object has by itself is no ID, wherever one may stand', async () => {
  for (const id of ['hasOwnProperty', 'constructor', '__proto__', 'toString']) {
    const by = encodeURIComponent(id);
    expect((await post('/api/bridge', { question: id, off: [] })).status).toBe(404);
    expect((await post('/api/sign-offs', { questionId: id, author: 'I', note: 'n' })).status).toBe(404);
    expect((await post('/api/waivers', { questionId: id, gate: 'fresh', author: 'I', reason: 'r', until: Date.now() + DAY })).status).toBe(404);
    for (const path of [`/api/proposal?id=${by}`, `/api/event-schema.json?event=${by}`, `/answers/${by}`, `/plan?item=event:${by}`])
      expect([path, (await fetch(server.url + path)).status < 500]).toEqual([path, true]);
    expect([400, 404]).toContain((await post('/api/proposal', { id, decision: 'accepted', note: '', author: 'I', choices: {} })).status);
    expect([400, 409]).toContain((await post('/api/edits', { edits: [{ op: 'set', kind: 'event', id, field: 'name', before: '', after: 'x' }] })).status);
  }
}); // prettier-ignore

test('methods that no standard request has are answered, with what there is instead', async () => {
  for (const method of ['TRACE', 'PROPFIND', 'DELETE', 'PUT'])
    for (const path of ['/', '/api/health', '/intake', '/api/edits']) {
      const status = await statusOf(method, path);
      expect([method, path, status >= 400 && status < 500]).toEqual([method, path, true]);
    }
});
