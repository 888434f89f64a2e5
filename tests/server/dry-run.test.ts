/** A dry run says beforehand what publishing then does: findings, figures and signals, over HTTP, with the same edits tried and then published. */
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { DryRun } from '../../src/core/scenario/dry-run';
import type { Edit } from '../../src/core/plan/edit';
import { entries, type Plan } from '../../src/core/plan/plan';
import { testDatabase } from '../build/database';
import { endProcess, startProcess, type Running, requestsTo } from '../build/server';
import { until } from '../build/wait';

let server: Running;
beforeAll(async () => {
  const url = await testDatabase('dry_run_test', { visitors: 700, seed: 9 });
  server = await startProcess(url);
});
afterAll(() => endProcess(server, 'SIGTERM'));

const { get, post } = requestsTo(() => server);
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
const settled = (): Promise<boolean> =>
  until('end of the recheck', async () => {
    const r = await post('/api/dry-run', {});
    await r.body?.cancel();
    return r.status === 200;
  });

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
  await expect.poll(async () => new Map([...(await findings())].sort())).toEqual(new Map([...wanted].sort()));
  const after = new Map((await get<Clearance[]>('/api/clearance')).map((c) => [c.questionId, c.signal]));
  for (const q of said.questions) if (q.signalAfter) expect([q.text, q.signalAfter]).toEqual([q.text, after.get(q.id)]);
  // Against the version that is in force now there is no difference.
  const again = await tried([]);
  expect([again.findings, again.judged, again.touched]).toEqual([[], 0, []]);
  for (const q of again.questions) expect(q.after).toBe(q.before);
});

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

const DAY = 86_400_000;
const dayAgo = (n: number): string => new Date(Date.now() - n * DAY).toISOString().slice(0, 10);

test('over a stretch of days, what is judged and found is of those days alone', async () => {
  const plan = await planNow();
  const propertyId = entries(plan, 'property').find(([, p]) => p.name === 'loan_days')![0];
  const edits: Edit[] = [
    { op: 'set', kind: 'property', id: propertyId, field: 'type', before: plan.property[propertyId]!.type, after: 'boolean' },
  ];
  const over = async (stretch: object): Promise<DryRun> => {
    const answer = (await lines(await post('/api/dry-run', { edits, ...stretch }))).at(-1)?.answer;
    if (!answer) throw new Error('no answer');
    return answer;
  };
  const count = (run: DryRun): number => run.findings.filter((f) => f.key.includes('wrong-type')).reduce((n, f) => n + f.after, 0);
  const whole = await over({});
  const week = await over({ from: dayAgo(14), through: dayAgo(8) });
  expect(week.stretch!.to - week.stretch!.from).toBe(7 * DAY);
  expect(count(week)).toBeGreaterThan(0);
  expect(count(week)).toBeLessThan(count(whole));
  expect(week.judged).toBeLessThan(whole.judged);
  // Three stretches side by side add up to the one over all of them.
  const parts = [];
  for (const [from, through] of [[30, 20], [19, 15], [14, 1]] as const) parts.push(count(await over({ from: dayAgo(from), through: dayAgo(through) }))); // prettier-ignore
  expect(parts.reduce((a, b) => a + b, 0)).toBe(count(await over({ from: dayAgo(30), through: dayAgo(1) })));
  for (const [stretch, detail] of [
    [{ from: dayAgo(3) }, 'A stretch has a first day'],
    [{ from: 'monday', through: dayAgo(1) }, '“monday” is not a day'],
    [{ from: dayAgo(1), through: dayAgo(3) }, 'before it begins'],
  ] as const) {
    const r = await post('/api/dry-run', { edits, ...stretch });
    expect([r.status, ((await r.json()) as { detail: string }).detail]).toEqual([400, expect.stringContaining(detail)]);
  }
});

test('what a proposal would do is kept with it as it was found, says when the proposal was edited since, and not after it is decided', async () => {
  interface Kept {
    runs: { author: string; isOld: boolean; run: DryRun }[];
  }
  const plan = await planNow();
  const propertyId = entries(plan, 'property').find(([, p]) => p.name === 'loan_days')![0];
  const { id } = (await (await post('/api/proposals', { name: 'Days are yes or no', author: 'ana' })).json()) as { id: string };
  const edit = (field: string, before: unknown, after: unknown): Promise<Response> =>
    post('/api/edits', { edits: [{ op: 'set', kind: 'property', id: propertyId, field, before, after }], revisions: {}, label: 'x', author: 'ana', proposal: id }); // prettier-ignore
  expect((await edit('type', plan.property[propertyId]!.type, 'boolean')).status).toBe(200);
  const answer = (await lines(await post('/api/kept-runs', { proposal: id, author: 'bo' }))).at(-1)?.answer;
  expect(answer!.findings.length).toBeGreaterThan(0);
  const first = await get<Kept>(`/api/proposal?id=${id}`);
  expect(first.runs).toEqual([expect.objectContaining({ author: 'bo', isOld: false, run: JSON.parse(JSON.stringify(answer)) as unknown })]);
  expect((await edit('unit', plan.property[propertyId]!.unit, '')).status).toBe(200);
  await post('/api/kept-runs', { proposal: id, author: 'cy', from: dayAgo(7), through: dayAgo(1) }).then(lines);
  const two = await get<Kept>(`/api/proposal?id=${id}`);
  expect(two.runs.map((r) => [r.author, r.isOld, r.run.stretch !== undefined])).toEqual([
    ['cy', false, true],
    ['bo', true, false],
  ]);
  expect((await post('/api/proposal', { id, decision: 'declined', author: 'ana' })).status).toBe(200);
  const late = await post('/api/kept-runs', { proposal: id, author: 'bo' });
  expect([late.status, ((await late.json()) as { detail: string }).detail]).toEqual([
    409,
    '“Days are yes or no” is declined; what it would do is no longer kept.',
  ]);
  expect((await get<Kept>(`/api/proposal?id=${id}`)).runs).toHaveLength(2);
  expect((await post('/api/kept-runs', { proposal: 'none', author: 'bo' })).status).toBe(404);
});
