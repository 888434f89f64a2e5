/** Hand-off over HTTP: tickets, a tracker, progress that arrivals and trials move on, documents, and the build check against the server's own verdicts. */
import { spawnSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { createServer, type Server } from 'node:http';
import { once } from 'node:events';
import type { AddressInfo } from 'node:net';
import { Webhook } from 'standardwebhooks';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { MessageAnswer } from '../../src/core/api/intake';
import type { ProgressPair } from '../../src/core/hand-off/progress';
import type { KeptTrialRun, TrialRunView } from '../../src/core/trial/trial-run';
import { built, folderWith, runIn } from '../cli/program';
import { create } from '../build/plan';
import { expects, step } from '../core/trial/made';
import { testDatabase } from '../build/database';
import { endProcess, startProcess, type Running, requestsTo } from '../build/server';
import { smallWorkspace } from '../build/workspace';
import { until } from '../build/wait';

let server: Running;
let key = '';
let program = '';
beforeAll(async () => {
  const url = await testDatabase('hand_off_test', 'empty');
  server = await startProcess(url, [], { SIGNAL_POST_PRIVATE_WEBHOOKS: 'yes' });
  key = await smallWorkspace(server.url);
  program = built();
});
afterAll(() => endProcess(server, 'SIGTERM'));

const { get, post } = requestsTo(() => server);
const told = async (r: Response): Promise<[number, string]> => [r.status, ((await r.json()) as { detail?: string }).detail ?? ''];
const send = async (messages: readonly object[]): Promise<readonly MessageAnswer[]> =>
  ((await (await post('/intake', messages, { authorization: `Bearer ${key}` })).json()) as { answers: readonly MessageAnswer[] }).answers;
const pair = async (): Promise<ProgressPair> =>
  (await get<ProgressPair[]>('/api/progress')).find((p) => p.eventId === 'posted' && p.sourceId === 'shop')!;
const edit = (edits: readonly object[]): Promise<Response> => post('/api/edits', { edits, label: 'x', author: 'Ines' });
const set = (kind: string, id: string, field: string, before: unknown, after: unknown) => ({ op: 'set', kind, id, field, before, after });
let made = 0;
const message = (more: object = {}) => ({
  id: `h-${++made}`,
  name: 'Parcel Posted',
  time: new Date().toISOString(),
  ids: { visitor: 'v-77', member: 'm-9' },
  properties: { code: 'abc' },
  release: '1.0',
  ...more,
});

test('what lacks something is held back and not handed over; then it is, with the tracker’s address kept', async () => {
  expect(await pair()).toMatchObject({ state: 'held back', waits: expect.stringContaining('description') as string });
  expect(await told(await post('/api/hand-overs', { eventId: 'posted', sourceId: 'shop' }))).toEqual([
    409,
    expect.stringMatching(/held back: description, samples of `code`/),
  ]);
  await edit([set('event', 'posted', 'description', '', 'A parcel was posted.'), set('property', 'code', 'samples', [], ['abc', 'def'])]);
  expect((await post('/api/publish', { note: 'complete' })).status).toBe(200);
  expect(await pair()).toMatchObject({ state: 'ready' });
  expect((await told(await post('/api/hand-overs', { eventId: 'posted', sourceId: 'nowhere' })))[0]).toBe(404);
  expect(await told(await post('/api/hand-overs', { eventId: 'posted', sourceId: 'shop', send: true }))).toEqual([
    409,
    expect.stringContaining('No tracker is named'),
  ]);

  const taken: { body: string; headers: Record<string, string> }[] = [];
  let answers = 500;
  const tracker: Server = createServer((request, response) => {
    let body = '';
    request.on('data', (d) => (body += String(d)));
    request.on('end', () => {
      taken.push({ body, headers: request.headers as Record<string, string> });
      response.writeHead(answers).end(answers === 500 ? 'no room' : '{"url":"https://tracker.example.org/T-1"}');
    });
  }).listen(0, '127.0.0.1');
  await once(tracker, 'listening');
  const address = `http://127.0.0.1:${(tracker.address() as AddressInfo).port}/tickets`;
  expect((await post('/api/tracker', { address })).status).toBe(200);
  expect(await told(await post('/api/tracker', { address: 'ftp://x' }))).toEqual([400, expect.stringContaining('http')]);
  // One that does not take it: nothing was handed over.
  expect(await told(await post('/api/hand-overs', { eventId: 'posted', sourceId: 'shop', send: true }))).toEqual([
    502,
    expect.stringContaining('no room'),
  ]);
  expect(await pair()).toMatchObject({ state: 'ready' });
  answers = 201;
  expect(await (await post('/api/hand-overs', { eventId: 'posted', sourceId: 'shop', send: true, author: 'Ines' })).json()).toEqual({
    address: 'https://tracker.example.org/T-1',
    events: 1,
  });
  const { secret } = await get<{ secret: string }>('/api/tracker');
  const sent = new Webhook(secret).verify(taken[1]!.body, taken[1]!.headers) as { data: { text: string; title: string } };
  expect(sent.data.title).toBe('Parcel Posted on Shop');
  expect(sent.data.text).toContain('## Must not fire when');
  expect(await pair()).toMatchObject({
    state: 'handed over',
    handOver: { address: 'https://tracker.example.org/T-1', planVersion: 2, author: 'Ines' },
  });
  tracker.close();
});

test('arrivals move it on to seen, a trial to verified, a later release to verified before', async () => {
  expect((await send([message()]))[0]!.answer).toBe('accepted');
  await until('state seen', async () => ((await pair()).state === 'seen' ? true : undefined));
  expect(await pair()).toMatchObject({ state: 'seen', release: '1.0', waits: 'A trial run.' });

  const trial = {
    name: 'Post a parcel',
    about: '',
    flow: '',
    owner: '',
    retired: false,
    steps: [step('post', { expects: [expects('Parcel Posted')], waitMs: 1000 })],
  };
  await edit([create('trial', 't', trial)]);
  const begin = (more: object) =>
    post('/api/trial-runs', {
      trialId: 't',
      tester: { by: 'identifier', value: 'v-77' },
      environment: 'production',
      author: 'Ada',
      ...more,
    });
  expect(await told(await begin({}))).toEqual([404, expect.stringContaining('Publish it first, or try the draft')]);
  const run = async (rules: string, release: string, times = 1): Promise<TrialRunView> => {
    const { id } = (await (await begin({ rules })).json()) as { id: string };
    expect(await told(await begin({ rules }))).toEqual([409, expect.stringContaining('Ada runs “Post a parcel” as v-77')]);
    await post('/api/trial-marks', { id, step: 'post' });
    // Another tester's message is none of this run's.
    const mine = Array.from({ length: times }, () => message({ release, time: '2019-01-01T00:00:00Z' }));
    await send([...mine, message({ ids: { visitor: 'v-other' }, release: '1.0' })]);
    const state = await until('verdict', async () => {
      const view = (await (await post('/api/trial-run', { id })).json()) as TrialRunView;
      return view.verdict.steps[0]!.state === (times === 1 ? 'passed' : 'failed') ? view : undefined;
    });
    expect(state.verdict.steps[0]!.expected[0]!.messages).toHaveLength(times);
    return (await (await post('/api/trial-marks', { id, step: 'end' })).json()) as TrialRunView;
  };
  const draft = await run('draft', '1.0');
  expect([draft.run.state, draft.warnings[0]]).toEqual([
    'passed',
    'Not published: a pass does not count for the plan in force, and verifies nothing.',
  ]);
  expect((await pair()).state).toBe('seen');
  await post('/api/publish', { note: 'with a trial' });
  const passed = await run('published', '1.0');
  expect(passed.warnings).toEqual([]);
  expect(await pair()).toMatchObject({ state: 'verified', release: '1.0', waits: '', verified: { author: 'Ada', planVersion: 3 } });
  const seenNow = async (): Promise<string | undefined> =>
    (await get<{ eventId: string; sourceId: string; verifiedIn?: string }[]>('/api/seen')).find(
      (s) => s.eventId === 'posted' && s.sourceId === 'shop',
    )?.verifiedIn;
  // The plan’s own view has the same state.
  expect(await seenNow()).toBe('1.0');
  // A later trial of the same release that fails takes that back, and one that passes gives it again.
  const failing = await run('published', '1.0', 2);
  expect(failing.run.state).toBe('failed');
  expect(await pair()).toMatchObject({ state: 'trial failed', release: '1.0' });
  expect([await seenNow(), await get('/api/verified')]).toEqual([undefined, []]);
  await run('published', '1.0');
  expect([(await pair()).state, await seenNow()]).toEqual(['verified', '1.0']);
  await send([message({ release: '1.1' })]);
  await until('newer release', async () => ((await pair()).state === 'verified before' ? true : undefined));
  expect((await pair()).waits).toBe('Verified for 1.0, now 1.1: try it again.');
  expect(await seenNow()).toBeUndefined();
  const runs = await get<KeptTrialRun[]>('/api/trial-runs?trial=t');
  expect(runs.map((r) => [r.state, r.rules])).toEqual([
    ['passed', 'published'],
    ['failed', 'published'],
    ['passed', 'published'],
    ['passed', 'draft'],
  ]);
});

test('a tester by a property of their own is told from others', async () => {
  const { id } = (await (
    await post('/api/trial-runs', { trialId: 't', tester: { by: 'property', name: 'code', value: 'mine' }, environment: 'production' })
  ).json()) as { id: string };
  await post('/api/trial-marks', { id, step: 'post' });
  await send([message({ ids: { visitor: 'v-1x' } }), message({ ids: { visitor: 'v-2x' }, properties: { code: 'mine' } })]);
  const view = await until('message', async () => {
    const v = (await (await post('/api/trial-run', { id })).json()) as TrialRunView;
    return v.messages.length > 0 ? v : undefined;
  });
  expect(view.messages.map((m) => m.ids)).toEqual([{ visitor: 'v-2x' }]);
  await post('/api/trial-marks', { id, step: 'end' });
});

test('the verdict of a run equals the offline one on what was captured of it, step by step, faults included', async () => {
  const trial = {
    name: 'Faulty', about: '', flow: '', owner: '', retired: false,
    steps: [
      step('twice', { expects: [expects('Parcel Posted')], waitMs: 1000 }),
      step('value', { expects: [expects('Parcel Posted', { values: [{ property: 'code', wanted: { is: 'exactly', value: 'right' } }] })], waitMs: 1000 }),
      step('none', { expects: [expects('Parcel Posted')], waitMs: 1000 }),
      step('forbidden', { forbids: ['Parcel Posted'], waitMs: 1000 }),
      step('good', { expects: [expects('Parcel Posted', { ids: ['member'] })], waitMs: 1000 }),
    ],
  }; // prettier-ignore
  await edit([create('trial', 'faulty', trial)]);
  await post('/api/publish', { note: 'faulty' });
  const { id } = (await (
    await post('/api/trial-runs', {
      trialId: 'faulty',
      tester: { by: 'identifier', value: 'v-faulty' },
      environment: 'production',
      author: 'Ada',
    })
  ).json()) as { id: string };
  const mark = (of: string): Promise<Response> => post('/api/trial-marks', { id, step: of });
  const mine = (more: object = {}) => message({ ids: { visitor: 'v-faulty', member: 'm-faulty' }, ...more });
  await mark('twice');
  await send([mine({ properties: { code: 'a' } }), mine({ properties: { code: 'b' } })]);
  await mark('value');
  await send([mine({ properties: { code: 'wrong' } })]);
  /** The time that a step has is over, by the clock of the server. */
  const over = (of: string): Promise<boolean> =>
    until(`end of the wait of ${of}`, async () => {
      const { verdict } = (await (await post('/api/trial-run', { id })).json()) as TrialRunView;
      const at = verdict.steps.find((s) => s.step === of)?.until;
      return at !== undefined && Date.now() > at;
    });
  await over('value');
  await mark('none');
  await over('none');
  await mark('forbidden');
  await send([mine()]);
  await over('forbidden');
  await mark('good');
  await send([mine()]);
  await until('all messages', async () =>
    ((await (await post('/api/trial-run', { id })).json()) as TrialRunView).messages.length === 5 ? true : undefined,
  );
  const live = (await (await mark('end')).json()) as TrialRunView;
  expect(live.verdict.steps.map((s) => s.state)).toEqual(['failed', 'failed', 'gap', 'failed', 'passed']);
  const at = folderWith({ 'run.ndjson': await (await fetch(`${server.url}/api/trial-evidence?id=${id}&format=ndjson`)).text() });
  const offline = JSON.parse(runIn(program, at, ['trial', 'Faulty', 'run.ndjson', '--plan', server.url, '-o', 'json']).out) as {
    title: string;
    cases: { state: string; text: string }[];
    results: { code: string; sentence: string }[];
  };
  expect(offline.title).toBe('Trial “Faulty”: failed');
  expect(offline.cases.map((c) => c.state)).toEqual(['failed', 'failed', 'failed', 'failed', 'passed']);
  const said = live.verdict.steps.flatMap((s) => [...s.expected.flatMap((e) => e.misfits), ...s.forbidden]).map((m) => m.sentence);
  expect(offline.results.map((r) => r.sentence)).toEqual(said);
});

test('a tester by the address that they send from: the one that the run was begun from, with no address kept at any message', async () => {
  const { id } = (await (await post('/api/trial-runs', { trialId: 't', tester: { by: 'address' }, environment: 'production' })).json()) as {
    id: string;
  };
  await post('/api/trial-marks', { id, step: 'post' });
  // The intake looks every two seconds whether such a run is open.
  const view = await until('message', async () => {
    await send([message({ ids: { visitor: 'v-by-address' } })]);
    const v = (await (await post('/api/trial-run', { id })).json()) as TrialRunView;
    return v.messages.length > 0 ? v : undefined;
  });
  expect(view.run.tester).toEqual({ by: 'address', value: '127.0.0.1' });
  for (const m of view.messages) expect(m.ids).toEqual({ visitor: 'v-by-address' });
  await post('/api/trial-marks', { id, step: 'end' });
  expect(
    await told(await post('/api/trial-runs', { trialId: 't', tester: { by: 'address', value: 'here' }, environment: 'production' })),
  ).toEqual([400, expect.stringContaining('An address is written as')]);
});

test('all of a source is handed over with one ticket, and what changed between versions with another', async () => {
  expect(
    await (await post('/api/hand-overs', { sourceId: 'desk', address: 'https://tracker.example.org/T-7', author: 'Ines' })).json(),
  ).toEqual({ address: 'https://tracker.example.org/T-7', events: 1 });
  const desk = (await get<ProgressPair[]>('/api/progress')).find((p) => p.sourceId === 'desk')!;
  expect(desk.handOver).toMatchObject({ address: 'https://tracker.example.org/T-7' });
  // Nothing of the event changed since version 2.
  expect(await (await post('/api/hand-overs', { sourceId: 'desk', from: 2 })).json()).toEqual({ address: '', events: 0 });
  expect((await told(await post('/api/hand-overs', { sourceId: 'nowhere' })))[0]).toBe(404);
});

test('documents, typed calls and models are given out, in their forms', async () => {
  const text = async (path: string): Promise<string> => (await fetch(server.url + path)).text();
  const html = await text('/api/hand-off-document?source=shop&format=html');
  expect(html).toMatch(/^<!doctype html>/);
  expect(html).not.toMatch(/<script|https?:\/\/(?!www\.w3)/);
  expect(await text('/api/hand-off-document?source=shop')).toContain('### Parcel Posted');
  expect(await text('/api/hand-off-document?from=1&version=2')).toMatch(/come from version 1 to version 2/);
  expect((await fetch(`${server.url}/api/hand-off-document?source=none`)).status).toBe(404);
  expect(await text('/api/typed-calls')).toContain('export const parcelPosted');
  expect(await text('/api/typed-calls')).toBe(await text('/api/typed-calls'));
  expect(await text('/api/models?language=python')).toContain('class ParcelPosted');
  // In Java each public class is a file of its own, read here by another program's hands.
  const java = await fetch(`${server.url}/api/models?language=java`);
  expect([java.headers.get('content-type'), java.headers.get('content-disposition')]).toEqual(['application/zip', expect.stringMatching(/filename="plan-v\d+-java\.zip"/)]); // prettier-ignore
  const list = spawnSync('python3', ['-c', 'import io,sys,zipfile;z=zipfile.ZipFile(io.BytesIO(sys.stdin.buffer.read()));print(z.testzip(),*sorted(z.namelist()))'], { input: Buffer.from(await java.arrayBuffer()), encoding: 'utf8' }); // prettier-ignore
  expect(list.stdout.trim()).toBe('None plan/ParcelPosted.java');
  expect((await fetch(`${server.url}/downloads/signal-post-check.mjs`)).status).toBe(200);
});

test('the build check says what the server says of the same messages', async () => {
  const messages = [
    message(),
    message({ properties: {} }),
    message({ name: 'parcel posted' }),
    message({ properties: { code: 7 } }),
    message({ properties: { code: '{{code}}' }, release: '{{release}}' }),
    message({ ids: { visitor: 'v-sample' } }),
    message({ user_properties: { shoe: 40 } }),
    message({ time: 'yesterday' }),
  ];
  const answers = await send(messages);
  const expected = new Map<string, number>();
  /** What is found on an identifier or a user property is one cause whatever event carried it: the subject is left out. */
  const bare = (text: string): string => text.replace(/^(`Parcel Posted`|Messages) /, '');
  const note = (text: string): void => void expected.set(bare(text), (expected.get(bare(text)) ?? 0) + 1);
  for (const a of answers) {
    if (a.answer === 'rejected') note(a.detail);
    if (a.answer === 'accepted with findings') for (const f of a.findings) note(f.sentence);
  }
  const at = folderWith({ 'm.ndjson': messages.map((m) => JSON.stringify(m)).join('\n') });
  const r = runIn(program, at, ['events', server.url, 'm.ndjson', '--source', 'shop', '-o', 'json']);
  const report = JSON.parse(r.out) as { results: { code: string; sentence: string; count?: number }[] };
  const found = new Map(
    report.results
      .filter((x) => !['double-fire', 'id-reused', 'id-elsewhere', 'over-common-id'].includes(x.code))
      .map((x) => [bare(x.sentence), x.count ?? 1]),
  );
  expect(r.code).toBe(1);
  expect(found).toEqual(expected);
  expect(expected.size).toBeGreaterThan(6);
});

test('a folder beside the code becomes a proposal; what changed in the meantime is a conflict, shown and not overwritten', async () => {
  const at = folderWith({});
  expect(runIn(program, at, ['write', server.url, 'plan']).code).toBe(0);
  const file = join(at, 'plan/events/parcel-posted.yaml');
  const change = (from: string, to: string): void => writeFileSync(file, readFileSync(file, 'utf8').replace(from, to));
  expect(runIn(program, at, ['propose', 'plan', '--to', server.url]).out).toContain('there is nothing to propose');
  change('description: A parcel was posted.', 'description: A parcel left the desk.');
  const proposed = runIn(program, at, ['propose', 'plan', '--to', server.url, '--name', 'From the code', '--by', 'Build']);
  expect([proposed.code, proposed.err]).toEqual([0, '']);
  const id = /proposal:([0-9a-f-]+)/.exec(proposed.out)![1]!;
  const review = await get<{ proposal: { name: string; author: string }; plan: { event: Record<string, { description: string }> } }>(
    `/api/proposal?id=${id}`,
  );
  expect([review.proposal.name, review.proposal.author, review.plan.event['posted']!.description]).toEqual([
    'From the code',
    'Build',
    'A parcel left the desk.',
  ]);
  // Meanwhile somebody publishes another description.
  await edit([set('event', 'posted', 'description', 'A parcel was posted.', 'A parcel was given to the courier.')]);
  await post('/api/publish', { note: 'courier' });
  const conflict = runIn(program, at, ['propose', 'plan', '--to', server.url]);
  expect(conflict.code).toBe(1);
  for (const said of ['Nothing was proposed', 'A parcel left the desk.', 'A parcel was given to the courier.', 'A parcel was posted.'])
    expect(conflict.out).toContain(said);
  // Writing the folder anew would lose the edit: it says so.
  expect(runIn(program, at, ['write', server.url, 'plan'])).toMatchObject({
    code: 1,
    out: expect.stringContaining('parcel-posted.yaml') as string,
  });
  expect(readFileSync(file, 'utf8')).toContain('A parcel left the desk.');
  expect(runIn(program, at, ['propose', 'plan', '--to', 'http://127.0.0.1:1']).code).toBe(3);
});
