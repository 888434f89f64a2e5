/** The draft in the browser, against a server that answers as told. */
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { applyEdits, type Edit } from '../../src/core/plan/edit';
import type { Plan } from '../../src/core/plan/plan';
import { DraftStore } from '../../src/islands/workplace/draft-store';
import { event, planWith } from '../plans';

let plan: Plan;
let answers: ('ok' | 'down' | 'refuse')[];
let received: Edit[][];

const json = (body: unknown, status = 200) => new Response(JSON.stringify(body), { status });

const serve = (path: string, init?: RequestInit): Response => {
  if (path.startsWith('/api/workplace'))
    return json({ plan, revisions: {}, lastChange: 0, published: null, unpublished: 0, recheck: null });
  const { edits } = JSON.parse(init!.body as string) as { edits: Edit[] };
  const how = answers.shift() ?? 'ok';
  if (how === 'down') return json({ detail: 'away' }, 503);
  if (how === 'refuse') return json({ detail: 'A name holds no control characters.' }, 400);
  const r = applyEdits(plan, edits);
  if (!r.ok) return json({ problem: r.problem }, 409);
  received.push(edits);
  plan = r.plan;
  return json({ revisions: {}, change: received.length });
};

const set = (after: string, before = ''): Edit => ({ op: 'set', kind: 'event', id: 'e', field: 'description', before, after });
const here = (s: DraftStore) => s.snapshot().plan?.event['e']?.description;
const there = () => plan.event['e']?.description;
const settled = (s: DraftStore) => vi.waitFor(() => expect(s.snapshot().saving).toBe('saved'), { timeout: 8000 });

beforeEach(() => {
  plan = planWith([event('e', { name: 'A' })]);
  answers = [];
  received = [];
  vi.stubGlobal('fetch', (path: string, init?: RequestInit) => new Promise((answer) => setTimeout(() => answer(serve(path, init)), 5)));
});
afterEach(() => void vi.unstubAllGlobals());

const loaded = async (): Promise<DraftStore> => {
  const store = new DraftStore();
  await store.load();
  return store;
};

test('a change shows at once and reaches the server; undo and redo are changes of their own', async () => {
  const store = await loaded();
  expect(store.apply([set('one')], 'Description')).toBe(true);
  expect([here(store), there()]).toEqual(['one', '']);
  await settled(store);
  expect(there()).toBe('one');
  expect(store.undo()).toBe('Description');
  expect(here(store)).toBe('');
  store.redo();
  await settled(store);
  expect([there(), received.length]).toEqual(['one', 3]);
  expect(store.apply([set('x', 'not what stands there')], 'stale here already')).toBe(false);
});

test('what cannot be sent is kept, shown as not saved, and sent in order when the server is back', async () => {
  const store = await loaded();
  answers = ['down', 'down'];
  store.apply([set('one')], '1');
  store.apply([set('two', 'one')], '2');
  await vi.waitFor(() => expect(store.snapshot().saving).toBe('waiting'));
  expect(here(store)).toBe('two');
  await settled(store);
  expect(there()).toBe('two');
  expect(received.map((e) => (e[0] as { after: string }).after)).toEqual(['one', 'two']);
});

test('a change that somebody else’s overtook is a conflict; mine or theirs, as one chooses', async () => {
  for (const [choice, wanted] of [
    ['mine', 'mine'],
    ['theirs', 'theirs'],
  ] as const) {
    const store = await loaded();
    const was = there()!;
    plan = planWith([event('e', { name: 'A', description: 'theirs' })]);
    store.apply([set('mine', was)], 'Description');
    await vi.waitFor(() =>
      expect(store.snapshot().conflict?.problem).toMatchObject({ field: 'description', mine: 'mine', theirs: 'theirs' }),
    );
    expect(there()).toBe('theirs');
    store.settle(choice);
    await settled(store);
    await vi.waitFor(() => expect([here(store), there()]).toEqual([wanted, wanted]));
    plan = planWith([event('e', { name: 'A' })]);
  }
});

test('a change that is refused says why, is taken back here, and cannot be undone', async () => {
  const store = await loaded();
  answers = ['refuse'];
  store.apply([set('one')], 'Description');
  await vi.waitFor(() => expect(store.snapshot().refusal).toContain('control characters'));
  await settled(store);
  expect([here(store), store.snapshot().canUndo]).toEqual(['', false]);
});
