/** Two processes on one database: news of the draft, proposals, comments, presence, the plan as it was. */
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Edit } from '../../src/core/plan/edit';
import type { Plan } from '../../src/core/plan/plan';
import { testDatabase } from '../build/database';
import { endProcess, startProcess } from '../build/server';
import { until } from '../build/wait';

let one: Awaited<ReturnType<typeof startProcess>>;
let two: typeof one;
beforeAll(async () => {
  const url = await testDatabase('review_test', { visitors: 40, seed: 5 });
  [one, two] = await Promise.all([startProcess(url), startProcess(url)]);
});
afterAll(async () => {
  await Promise.all([endProcess(one, 'SIGTERM'), endProcess(two, 'SIGTERM')]);
});

const get = async <T>(server: typeof one, path: string): Promise<T> => (await (await fetch(`${server.url}${path}`)).json()) as T;
const post = async (server: typeof one, path: string, body: object) => {
  const r = await fetch(`${server.url}${path}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  });
  return { status: r.status, body: (await r.json()) as Record<string, unknown> };
};
const set = (id: string, field: string, before: unknown, after: unknown): Edit => ({ op: 'set', kind: 'event', id, field, before, after });
interface Workplace {
  plan: Plan;
  lastChange: number;
  changed: { kind: string; id: string; body: unknown }[];
}

test('the other process gives only what changed since, and a whole plan that is the same', async () => {
  const { plan, lastChange } = await get<Workplace>(two, '/api/workplace');
  const trigger = plan.event['signed-in']!.trigger;
  await post(one, '/api/edits', {
    edits: [set('signed-in', 'trigger', trigger, 'The server opened it.')],
    label: 'Trigger',
    author: 'Ines',
  });
  const news = await get<Workplace>(two, `/api/workplace?after=${lastChange}`);
  expect(news.changed.map((c) => [c.kind, c.id])).toEqual([['event', 'signed-in']]);
  expect(news.changed[0]!.body).toMatchObject({ trigger: 'The server opened it.' });
  expect((await get<Workplace>(two, `/api/workplace?after=${news.lastChange}`)).changed).toEqual([]);
  expect((await get<Workplace>(one, '/api/workplace')).plan).toEqual((await get<Workplace>(two, '/api/workplace')).plan);
  // A number that the database does not know: the whole plan, not silence.
  expect((await get<Workplace>(two, '/api/workplace?after=999999')).plan).toBeDefined();
});

test('changes at the same time from both processes all become visible, in the order of their numbers', async () => {
  const before = await get<Workplace>(one, '/api/workplace');
  const made = await Promise.all(
    Array.from({ length: 24 }, (_, i) =>
      post(i % 2 ? one : two, '/api/edits', {
        edits: [{ op: 'create', kind: 'sharedSet', id: `made-${i}`, body: { name: `made ${i}`, description: '', properties: [] } }],
      }),
    ),
  );
  expect(made.every((m) => m.status === 200)).toBe(true);
  const news = await get<Workplace>(two, `/api/workplace?after=${before.lastChange}`);
  expect(new Set(news.changed.map((c) => c.id)).size).toBe(24);
});

test('a proposal leaves the draft alone, is rejected what does not fit, and is merged with its conflict decided', async () => {
  const begun = await post(one, '/api/proposals', { name: 'Another moment', author: 'Ravi' });
  const id = begun.body['id'] as string;
  const base = (await get<{ base: Plan }>(two, `/api/proposal?id=${id}`)).base.event['tool-viewed']!;
  const edits = [set('tool-viewed', 'trigger', base.trigger, 'Ten seconds in view.'), set('tool-viewed', 'owner', base.owner, 'Ravi')];
  expect((await post(two, '/api/edits', { edits, proposal: id, author: 'Ravi' })).status).toBe(200);
  const stale = await post(one, '/api/edits', { edits: [set('tool-viewed', 'owner', base.owner, 'Ines')], proposal: id });
  expect([stale.status, stale.body['problem']]).toMatchObject([409, { code: 'stale', theirs: 'Ravi' }]);
  expect((await get<Workplace>(one, '/api/workplace')).plan.event['tool-viewed']!.trigger).toBe(base.trigger);

  await post(one, '/api/edits', { edits: [set('tool-viewed', 'trigger', base.trigger, 'Six seconds in view.')] });
  const open = await post(one, '/api/proposal', { id, decision: 'accepted' });
  expect([open.status, open.body['conflicts']]).toMatchObject([
    409,
    [{ field: 'trigger', proposed: 'Ten seconds in view.', draft: 'Six seconds in view.' }],
  ]);
  const key = JSON.stringify(['event', 'tool-viewed', 'trigger']);
  expect((await post(two, '/api/proposal', { id, decision: 'accepted', choices: { [key]: 'draft' }, author: 'Ines' })).status).toBe(200);
  expect((await get<Workplace>(one, '/api/workplace')).plan.event['tool-viewed']).toMatchObject({
    trigger: 'Six seconds in view.',
    owner: 'Ravi',
  });
  expect((await post(one, '/api/proposal', { id, decision: 'declined' })).status).toBe(409);
  expect((await post(one, '/api/edits', { edits, proposal: id })).status).toBe(410);
});

test('the plan as it was at an instant', async () => {
  const then = new Date().toISOString();
  const { plan } = await get<Workplace>(one, '/api/workplace');
  await until('next moment', () => Date.now() > Date.parse(then));
  await post(one, '/api/edits', { edits: [set('loan-started', 'notes', plan.event['loan-started']!.notes, 'Later.')] });
  const was = await get<{ plan: Plan; version: { number: number } }>(two, `/api/plan-at?at=${encodeURIComponent(then)}`);
  expect(was.plan).toEqual(plan);
  expect(was.version.number).toBe(1);
  expect((await fetch(`${one.url}/api/plan-at?at=yesterday`)).status).toBe(400);
});

test('comments and presence are seen from the other process', async () => {
  const { body } = await post(one, '/api/comments', { kind: 'event', entityId: 'tool-viewed', body: 'Why ten?', author: 'Ines' });
  await post(two, '/api/presence', { session: 's1', author: 'Ravi', place: '/plan/event:tool-viewed' });
  interface People {
    present: { author: string }[];
    comments: { body: string; resolvedBy: string | null }[];
  }
  expect(await get<People>(two, '/api/people')).toMatchObject({
    present: [{ author: 'Ravi' }],
    comments: [{ body: 'Why ten?', resolvedBy: null }],
  });
  await post(two, '/api/comments', { id: body['id'], settled: true, author: 'Ravi' });
  await post(two, '/api/presence', { session: 's1', author: 'Ravi', place: '' });
  expect(await get<People>(one, '/api/people')).toMatchObject({ present: [], comments: [{ resolvedBy: 'Ravi' }] });
  expect((await post(one, '/api/comments', { kind: 'event', entityId: 'x', body: ' ' })).status).toBe(400);
});

test('the plan to take away, in every format', async () => {
  const file = async (format: string) => (await fetch(`${one.url}/api/plan-file?format=${format}&version=draft`)).text();
  expect(JSON.parse(await file('json'))).toMatchObject({ format: 'signal-post-plan/1', version: 0 });
  expect(await file('yaml')).toMatch(/^format: signal-post-plan\/1/);
  expect(await file('csv')).toMatch(/^event name,/);
  expect(await file('md')).toContain('### Tool Viewed');
  expect(await file('names')).toContain('tool / viewed');
  expect((await fetch(`${one.url}/api/plan-file?format=doc`)).status).toBe(400);
});

test('one accepts and the other declines at the same moment: the draft has the edits only where accepting won', async () => {
  for (let round = 0; round < 8; round++) {
    const begun = await post(one, '/api/proposals', { name: `Round ${round}`, author: 'Ravi' });
    const { id } = begun.body as { id: string };
    const before = (await get<{ plan: Plan }>(two, `/api/proposal?id=${id}`)).plan.event['signed-out']!.notes;
    const edits = [set('signed-out', 'notes', before, `round ${round}`)];
    expect((await post(one, '/api/edits', { edits, proposal: id, author: 'Ravi' })).status).toBe(200);
    const answers = await Promise.all([
      post(one, '/api/proposal', { id, decision: 'accepted', author: 'Ines' }),
      post(two, '/api/proposal', { id, decision: 'declined', author: 'Tom' }),
    ]);
    expect(answers.map((a) => a.status).sort()).toEqual([200, 409]);
    const { plan } = await get<Workplace>(two, '/api/workplace');
    const status = (await get<{ proposal: { status: string } }>(one, `/api/proposal?id=${id}`)).proposal.status;
    expect([status, plan.event['signed-out']!.notes === `round ${round}`]).toEqual([
      answers[0].status === 200 ? 'accepted' : 'declined',
      answers[0].status === 200,
    ]);
    // The next proposal begins on the published version: the draft is put back.
    const notes = plan.event['signed-out']!.notes;
    if (notes !== before) await post(one, '/api/edits', { edits: [set('signed-out', 'notes', notes, before)], label: '', author: 'Ines' });
  }
});

test('what a plan must not become is refused on every way in, with a sentence, and nothing of it is stored', async () => {
  const { plan } = await get<Workplace>(one, '/api/workplace');
  const { plan: published } = await get<{ plan: Plan }>(one, '/api/version?number=1');
  // Two that the version and the draft name alike.
  const [a, b] = Object.entries(plan.event).filter(([id, e]) => published.event[id]?.name === e.name);
  const [[first, { name: firstName }], [second, { name: secondName }]] = [a!, b!];
  const twice = await post(one, '/api/edits', { edits: [set(first, 'name', firstName, secondName)], author: 'Ines' });
  expect(twice).toMatchObject({
    status: 422,
    body: { error: 'refused', detail: `There is an event “${secondName}” already. Choose another name.` },
  });
  const nowhere = await post(one, '/api/edits', {
    edits: [set(first, 'sharedSets', plan.event[first]!.sharedSets, ['nowhere'])],
  });
  expect([nowhere.status, nowhere.body['detail']]).toEqual([
    422,
    `“${firstName}” would refer to the shared set “nowhere”, which is not in the plan.`,
  ]);
  const registered = Object.entries(plan.userProperty).find(([, u]) => u.registered)!;
  const lost = await post(one, '/api/edits', {
    edits: [{ op: 'set', kind: 'userProperty', id: registered[0], field: 'registered', before: true, after: false }],
  });
  expect([lost.status, lost.body['detail']]).toEqual([
    422,
    `“${registered[1].name}” is registered, which cannot be taken back: retire it instead.`,
  ]);
  expect((await get<Workplace>(two, '/api/workplace')).plan).toEqual(plan);

  // In a proposal at once; and when the draft has taken the name since, at its acceptance.
  const { body } = await post(one, '/api/proposals', { name: 'A name', author: 'Ines' });
  const id = body['id'] as string;
  const proposed = await post(one, '/api/edits', { edits: [set(first, 'name', firstName, secondName)], proposal: id });
  expect([proposed.status, proposed.body['error']]).toEqual([422, 'refused']);
  const fresh = await post(one, '/api/edits', { edits: [set(first, 'name', firstName, 'Wanted By Two')], proposal: id });
  expect(fresh.status).toBe(200);
  expect((await post(two, '/api/edits', { edits: [set(second, 'name', secondName, 'Wanted By Two')] })).status).toBe(200);
  const accepted = await post(one, '/api/proposal', { id, decision: 'accepted', note: '', author: 'Jo', choices: {} });
  expect(accepted).toMatchObject({ status: 422, body: { error: 'refused' } });
  expect(accepted.body['detail']).toContain('There is an event “Wanted By Two” already.');
  const draft = (await get<Workplace>(two, '/api/workplace')).plan;
  expect([draft.event[first]!.name, draft.event[second]!.name]).toEqual([firstName, 'Wanted By Two']);
});

test('before the first version there was nothing: all of it is new', async () => {
  const first = await get<{ what: string; kind: string }[]>(one, '/api/changes?version=1');
  expect(first.length).toBeGreaterThan(20);
  expect(first.every((c) => c.what === 'added')).toBe(true);
});

test('the history comes in pages, each change once, and says where there are older ones', async () => {
  interface Page {
    changes: { seq: number }[];
    older: boolean;
  }
  for (let i = 0; i < 40; i++)
    await post(one, '/api/edits', { edits: [{ op: 'create', kind: 'sharedSet', id: `page-${i}`, body: { name: `page ${i}`, description: '', properties: [] } }] }); // prettier-ignore
  const seqs: number[] = [];
  const older: boolean[] = [];
  for (let before = ''; ;) {
    const page = await get<Page>(two, `/api/history${before}`);
    seqs.push(...page.changes.map((c) => c.seq));
    older.push(page.older);
    if (!page.older) break;
    before = `?before=${page.changes.at(-1)!.seq}`;
  }
  expect(older.length).toBeGreaterThan(1);
  expect(seqs).toEqual([...new Set(seqs)].sort((a, b) => b - a));
  // What was just the last page has none behind it.
  expect(await get<Page>(one, `/api/history?before=${seqs.at(-1)!}`)).toMatchObject({ changes: [], older: false });
  expect(await get<Page>(one, `/api/history?before=${seqs.at(-2)!}`)).toMatchObject({ changes: [{ seq: seqs.at(-1) }], older: false });
});
