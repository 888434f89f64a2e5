/** A dry run says beforehand what publishing then does: findings, figures and signals, over HTTP, with the same edits tried and then published. */
import { afterAll, beforeAll, expect, test } from 'vitest';
import { prepareDemo } from '../../ops/prepare';
import type { DryRun } from '../../src/core/scenario/dry-run';
import type { Edit } from '../../src/core/plan/edit';
import { entries, type Plan } from '../../src/core/plan/plan';
import { freshTestDatabase } from './database';
import { endProcess, startProcess, type Running } from './process';

let server: Running;
beforeAll(async () => {
  const url = await freshTestDatabase('dry_run_test');
  await prepareDemo(url, { visitors: 700, seed: 9 });
  server = await startProcess(url, 4930);
}, 120_000);
afterAll(() => endProcess(server, 'SIGTERM'));

const get = async <T>(path: string): Promise<T> => (await (await fetch(server.url + path)).json()) as T;
const post = (path: string, body: unknown): Promise<Response> =>
  fetch(server.url + path, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });
const lines = async (response: Response): Promise<{ progress?: { done: number; total: number }; answer?: DryRun; error?: string }[]> =>
  (await response.text())
    .trim()
    .split('\n')
    .map((l) => JSON.parse(l) as never);
const tried = async (edits: readonly Edit[]): Promise<DryRun> => {
  const all = await lines(await post('/api/dry-run', { edits }));
  const answer = all.at(-1)?.answer;
  if (!answer) throw new Error(JSON.stringify(all.at(-1)));
  for (const l of all.slice(0, -1)) expect(l.progress!.done).toBeLessThanOrEqual(l.progress!.total);
  return answer;
};

interface Group {
  key: string;
  count: number;
  severity: string;
}
interface Clearance {
  questionId: string;
  signal: string;
}
const planNow = async (): Promise<Plan> => (await get<{ plan: Plan }>('/api/workplace')).plan;
const findings = async (): Promise<Map<string, number>> =>
  new Map((await get<{ groups: Group[] }>('/api/findings')).groups.map((g) => [g.key, Math.max(1, g.count)]));
const settled = async (): Promise<void> => {
  for (let i = 0; i < 300; i++) {
    const r = await post('/api/dry-run', {});
    await r.body?.cancel();
    if (r.status === 200) return;
    await new Promise((next) => setTimeout(next, 200));
  }
  throw new Error('the recorded messages are still being checked');
};

test('what is tried is what then happens: a type, a name, a definition, an identity rule', async () => {
  await settled();
  const plan = await planNow();
  const propertyId = entries(plan, 'property').find(([, p]) => p.name === 'guide_share')![0];
  const [eventId, event] = entries(plan, 'event').find(([, e]) => e.name === 'Catalogue Searched')!;
  const [questionId, question] = entries(plan, 'question').find(([, q]) => JSON.stringify(q.formula ?? '').includes('"Tool Viewed"'))!;
  const edits: Edit[] = [
    { op: 'set', kind: 'property', id: propertyId, field: 'type', before: plan.property[propertyId]!.type, after: 'string' },
    { op: 'set', kind: 'event', id: eventId, field: 'name', before: event.name, after: 'Catalogue Looked Through' },
    {
      op: 'create',
      kind: 'definition',
      id: 'half',
      body: {
        name: 'Tool Looked At',
        source: { of: 'events', names: ['Tool Viewed'] },
        where: {
          match: 'all',
          conditions: [{ subject: { of: 'source' }, op: 'is', values: ['web'] }],
          groups: [],
        },
        changes: [],
        description: '',
        owner: '',
        conversion: false,
        keepReason: '',
        retired: false,
      },
    },
    {
      op: 'set',
      kind: 'question',
      id: questionId,
      field: 'formula',
      before: question.formula,
      after: JSON.parse(JSON.stringify(question.formula).replaceAll('"Tool Viewed"', '"Tool Looked At"')) as never,
    },
  ];
  const before = await findings();
  const figuresBefore = new Map((await get<Clearance[]>('/api/clearance')).map((c) => [c.questionId, c.signal]));
  const said = await tried(edits);
  expect(said.judged).toBeGreaterThan(100);
  expect(said.findings.length).toBeGreaterThan(2);
  // Nothing of it is stored.
  expect(await findings()).toEqual(before);
  expect((await planNow()).event[eventId]!.name).toBe(event.name);
  for (const f of said.findings) expect(before.get(f.key) ?? 0).toBe(f.before);
  for (const q of said.questions) if (q.signalBefore) expect(q.signalBefore).toBe(figuresBefore.get(q.id));
  expect(said.touched.map((t) => t.id)).toContain(questionId);

  expect((await post('/api/edits', { edits, revisions: {}, label: 'tried', author: 'a' })).status).toBe(200);
  // What the draft had besides was tried along.
  expect((await post('/api/publish', { note: 'as tried', author: 'a' })).status).toBe(200);
  await settled();
  const wanted = new Map(before);
  for (const f of said.findings) {
    if (f.after === 0) wanted.delete(f.key);
    else wanted.set(f.key, f.after);
  }
  for (let i = 0; i < 100 && JSON.stringify([...(await findings())].sort()) !== JSON.stringify([...wanted].sort()); i++)
    await new Promise((next) => setTimeout(next, 200));
  expect(new Map([...(await findings())].sort())).toEqual(new Map([...wanted].sort()));
  const after = new Map((await get<Clearance[]>('/api/clearance')).map((c) => [c.questionId, c.signal]));
  for (const q of said.questions) if (q.signalAfter) expect([q.text, q.signalAfter]).toEqual([q.text, after.get(q.id)]);
  // Against the version that is in force now there is no difference.
  const again = await tried([]);
  expect([again.findings, again.judged, again.touched]).toEqual([[], 0, []]);
  for (const q of again.questions) expect(q.after).toBe(q.before);
}, 120_000);

test('other identity rules change persons and figures, and judge no message anew', async () => {
  const plan = await planNow();
  const settings = plan.settings['settings']!;
  const identity = { ...settings.identity, linking: false };
  const said = await tried([
    { op: 'set', kind: 'settings', id: 'settings', field: 'identity', before: settings.identity, after: identity },
  ]);
  expect(said.judged).toBe(0);
  expect(said.persons.after.persons).toBeGreaterThan(said.persons.before.persons);
  const what = (await lines(await post('/api/what-if', { identity }))).at(-1) as unknown as { answer: { after: { persons: number } } };
  expect(said.persons.after).toEqual(what.answer.after);
  expect(said.questions.some((q) => q.before !== q.after)).toBe(true);
});

test('what cannot be tried says why', async () => {
  const unknown = await post('/api/dry-run', { proposal: 'none' });
  expect([unknown.status, ((await unknown.json()) as { detail: string }).detail]).toEqual([404, 'There is no proposal of this id.']);
  const stale = await post('/api/dry-run', {
    edits: [{ op: 'set', kind: 'property', id: 'nobody', field: 'type', before: 'string', after: 'number' }],
  });
  expect(stale.status).toBe(409);
  const wrong = await post('/api/dry-run', { edits: [{ op: 'set', kind: 'property', id: 'x', field: 'colour', before: '', after: '' }] });
  expect([wrong.status, ((await wrong.json()) as { detail: string }).detail]).toEqual([400, 'Edit 1: property has no field “colour”']);
});
