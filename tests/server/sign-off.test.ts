/** Over HTTP: a question is signed off, with its evidence kept; a fault that begins lets it fall, and so does a version that changes what it means. */
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { QuestionClearance } from '../../src/core/clearance/question-clearance';
import type { Signed } from '../../src/core/api/sign-offs';
import type { Edit } from '../../src/core/plan/edit';
import { entries, type Plan } from '../../src/core/plan/plan';
import { testDatabase } from '../build/database';
import { endProcess, startProcess, type Running, requestsTo } from '../build/server';
import { badSearches } from '../build/bad-release';
import { until } from '../build/wait';
import { lookedSince } from '../build/looks';

let server: Running;
let url: string;
beforeAll(async () => {
  url = await testDatabase('sign_off_test', { visitors: 1500, seed: 9, faults: [] });
  server = await startProcess(url);
});
afterAll(() => endProcess(server, 'SIGTERM'));

const { get, post } = requestsTo(() => server);
const detail = async (r: Response): Promise<[number, string]> => [r.status, ((await r.json()) as { detail?: string }).detail ?? ''];
const signalOf = async (id: string): Promise<QuestionClearance> =>
  (await get<QuestionClearance[]>('/api/clearance')).find((c) => c.questionId === id)!;
const signed = (id: string): Promise<Signed> => get(`/api/sign-offs?question=${id}`);
const SEARCHES = 'searches-without-result';
const VIEWERS = 'viewers-to-borrowers';

test('what is clear is signed off with its evidence and figure; what is not, says why', async () => {
  await until('verdict', async () => ((await signalOf(SEARCHES)).signal === 'clear' ? true : undefined));
  expect((await post('/api/sign-offs', { questionId: SEARCHES, note: 'Compared with the desk.', author: 'Ana' })).status).toBe(200);
  const { signOffs } = await signed(SEARCHES);
  const now = await signalOf(SEARCHES);
  expect(signOffs).toHaveLength(1);
  expect(signOffs[0]).toMatchObject({ author: 'Ana', note: 'Compared with the desk.', version: 1, signal: 'clear', fellAt: null });
  expect(Object.keys(signOffs[0]!.gates).sort()).toEqual(now.gates.map((g) => g.gate).sort());
  expect(signOffs[0]!.gates['conforming']!.evidence).toContain('95 % confidence');
  const figure = now.figure;
  expect(signOffs[0]!.headline).toBeCloseTo(figure?.type === 'rate of a value' ? figure.share! : NaN, 6);

  expect(await detail(await post('/api/sign-offs', { questionId: SEARCHES, note: ' ', author: 'Ana' }))).toEqual([400, expect.stringContaining('Say in a few words on what ground')]); // prettier-ignore
  expect(await detail(await post('/api/sign-offs', { questionId: SEARCHES, note: 'x', until: 5, author: 'Ana' }))).toEqual([400, 'The end date has gone by; choose a later one.']); // prettier-ignore
  expect((await detail(await post('/api/sign-offs', { questionId: 'nobody', note: 'x', author: 'Ana' })))[0]).toBe(404);
  expect(await detail(await post('/api/sign-offs', { questionId: 'guides-read', note: 'x', author: 'Ana' }))).toEqual([409, expect.stringContaining('is not judged yet')]); // prettier-ignore
  expect((await detail(await post('/api/sign-offs', { questionId: VIEWERS, withdraw: 'x', author: 'Ana' })))[0]).toBe(404);
});

test('who signs anew takes the place of who signed before; it can be taken back', async () => {
  expect((await post('/api/sign-offs', { questionId: SEARCHES, note: 'And again.', author: 'Bo' })).status).toBe(200);
  expect((await signed(SEARCHES)).signOffs.map((s) => [s.author, s.because])).toEqual([
    ['Bo', null],
    ['Ana', 'Bo signed it off anew.'],
  ]);
  await until('verdict', async () => ((await signalOf(VIEWERS)).signal === 'clear' ? true : undefined));
  expect((await post('/api/sign-offs', { questionId: VIEWERS, note: 'Fine.', author: 'Bo' })).status).toBe(200);
  expect((await post('/api/sign-offs', { questionId: VIEWERS, withdraw: 'Looked too quickly.', author: 'Bo' })).status).toBe(200);
  expect((await signed(VIEWERS)).signOffs[0]).toMatchObject({ because: 'Taken back by Bo: Looked too quickly.' });
  expect((await post('/api/sign-offs', { questionId: VIEWERS, note: 'Now really.', author: 'Bo' })).status).toBe(200);
});

test('a fault that begins lets it fall, with the gate and its evidence, and leaves what it does not touch; the signal’s history shows it', async () => {
  const { key } = (await (await post('/api/keys', { sourceId: 'web', label: 'a bad release' })).json()) as { key: string };
  const plan = (await get<{ plan: Plan }>('/api/workplace')).plan;
  const [, search] = entries(plan, 'event').find(([, e]) => e.name === 'Catalogue Searched')!;
  const used = JSON.stringify(plan.question[SEARCHES]!.formula);
  const property = search.properties.map((p) => plan.property[p.propertyId]!).find((p) => used.includes(`"${p.name}"`))!;
  const bad = badSearches(400, { [property.name]: { not: 'a value' } });
  expect((await post('/intake', bad, { authorization: `Bearer ${key}` })).status).toBe(200);
  const fallen = await until('fall', async () => {
    const [newest] = (await signed(SEARCHES)).signOffs;
    return newest?.fellAt === null ? undefined : newest;
  });
  expect(fallen!.because).toMatch(/^The gate conforming fell from clear to (stop|caution): /);
  expect((await signed(VIEWERS)).signOffs[0]!.fellAt).toBeNull();
  const { signals } = await signed(SEARCHES);
  expect(signals.length).toBeGreaterThanOrEqual(2);
  expect(signals.at(-1)!.signal).not.toBe('clear');
  expect(signals.map((s) => s.at)).toEqual(signals.map((s) => s.at).sort((a, b) => a - b));
});

test('a gate at stop is waived with a reason until a day: the question is a caution, can be signed off, and stops again when that ends', async () => {
  const gate = async () => (await signalOf(SEARCHES)).gates.find((g) => g.gate === 'conforming')!;
  // An answer that took long is given for as long again.
  await until('stop', async () => ((await gate()).signal === 'stop' ? true : undefined));
  expect(await detail(await post('/api/sign-offs', { questionId: SEARCHES, note: 'x', author: 'Ana' }))).toEqual([409, expect.stringContaining('is at stop')]); // prettier-ignore
  const waive = (more: object): Promise<Response> =>
    post('/api/waivers', {
      questionId: SEARCHES,
      gate: 'conforming',
      reason: 'Test traffic.',
      until: Date.now() + 86_400_000,
      author: 'Ana',
      ...more,
    });
  expect(await detail(await waive({ reason: ' ' }))).toEqual([400, expect.stringContaining('Say why the gate need not')]);
  expect(await detail(await waive({ until: 5 }))).toEqual([400, 'The end date has gone by; choose a later one.']);
  expect((await detail(await waive({ gate: 'cooking' })))[0]).toBe(400);
  expect((await detail(await waive({ questionId: 'nobody' })))[0]).toBe(404);
  expect(await detail(await waive({ gate: 'planned' }))).toEqual([409, 'The gate planned is at clear: it does not hold the question up.']);
  expect((await detail(await post('/api/waivers', { questionId: SEARCHES, gate: 'conforming', withdraw: 'x', author: 'Ana' })))[0]).toBe(
    404,
  );

  expect((await waive({})).status).toBe(200);
  const waived = await signalOf(SEARCHES);
  expect(waived.signal).toBe('caution');
  expect(waived.gates.find((g) => g.gate === 'conforming')).toMatchObject({ signal: 'caution', waived: { author: 'Ana', reason: 'Test traffic.', from: 'stop' } }); // prettier-ignore
  expect((await waive({ reason: 'Test traffic, for longer.' })).status).toBe(200);
  expect((await signed(SEARCHES)).waivers.map((w) => [w.reason, w.because])).toEqual([
    ['Test traffic, for longer.', null],
    ['Test traffic.', 'Ana waived it anew.'],
  ]);
  expect((await post('/api/sign-offs', { questionId: SEARCHES, note: 'Known.', author: 'Ana' })).status).toBe(200);

  expect((await post('/api/waivers', { questionId: SEARCHES, gate: 'conforming', withdraw: 'Not test traffic.', author: 'Bo' })).status).toBe(200); // prettier-ignore
  expect((await gate()).signal).toBe('stop');
  const fallen = await until('fall', async () => {
    const [newest] = (await signed(SEARCHES)).signOffs;
    return newest?.fellAt === null ? undefined : newest;
  });
  expect(fallen!.because).toMatch(/^The gate conforming fell from caution to stop: /);
  expect((await signed(SEARCHES)).waivers[0]!.because).toBe('Taken back by Bo: Not test traffic.');
});

test('a version that changes what a question means lets it fall; one that changes words does not', async () => {
  const plan = (await get<{ plan: Plan }>('/api/workplace')).plan;
  const [id, viewed] = entries(plan, 'event').find(([, e]) => e.name === 'Tool Viewed')!;
  const publish = async (edit: Edit): Promise<void> => {
    expect((await post('/api/edits', { edits: [edit], revisions: {}, label: 'x', author: 'a' })).status).toBe(200);
    expect((await post('/api/publish', { note: 'x', author: 'a' })).status).toBe(200);
  };
  await publish({ op: 'set', kind: 'event', id, field: 'description', before: viewed.description, after: 'A tool was looked at.' });
  await lookedSince(url, Date.now());
  expect((await signed(VIEWERS)).signOffs[0]!.fellAt).toBeNull();
  await publish({ op: 'set', kind: 'event', id, field: 'oncePer', before: viewed.oncePer, after: viewed.oncePer === 'session' ? 'person' : 'session' }); // prettier-ignore
  const fallen = await until('fall', async () => {
    const [newest] = (await signed(VIEWERS)).signOffs;
    return newest?.fellAt === null ? undefined : newest;
  });
  expect(fallen!.because).toBe('Version 3 changed what it means.');
});
