/** The draft in the browser, against a server that answers as told. */
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { applyEdits, type Edit } from '../../src/core/plan/edit';
import type { Plan } from '../../src/core/plan/plan';
import { DraftStore } from '../../src/islands/workplace/draft-store';
import { Unsent, type Keeping } from '../../src/islands/workplace/unsent';
import { create, event, planWith } from '../build/plan';
import { eventually, until } from '../build/wait';

let plan: Plan;
/** `lost`: the change is made, and the answer says that the server is away; `left`: it is made, and the page is gone before the answer;
 *  `never`: the page is gone before it is made.
 */
let answers: ('ok' | 'down' | 'refuse' | 'lost' | 'left' | 'never')[];
let received: Edit[][];
let asked: number;

const json = (body: unknown, status = 200) => new Response(JSON.stringify(body), { status });

const serve = (path: string, init?: RequestInit): Response | Promise<Response> => {
  if (path.startsWith('/api/workplace'))
    return json({ plan, revisions: {}, lastChange: 0, published: null, unpublished: 0, keys: 0, recheck: null });
  const { edits } = JSON.parse(init!.body as string) as { edits: Edit[] };
  const how = answers.shift() ?? 'ok';
  if (how === 'never') return new Promise(() => undefined);
  if (how === 'down') return json({ detail: 'away' }, 503);
  if (how === 'refuse') return json({ detail: 'A name holds no control characters.' }, 400);
  const r = applyEdits(plan, edits);
  if (!r.ok) return json({ problem: r.problem }, 409);
  received.push(edits);
  plan = r.plan;
  if (how === 'left') return new Promise(() => undefined);
  if (how === 'lost') return json({ detail: 'away' }, 503);
  return json({ revisions: {}, change: received.length });
};

const set = (after: string, before = ''): Edit => ({ op: 'set', kind: 'event', id: 'e', field: 'description', before, after });
const here = (s: DraftStore) => s.snapshot().plan?.event['e']?.description;
const there = () => plan.event['e']?.description;
/** While it is waited for, the pauses before another try go by. */
const shows = (holds: () => unknown) => eventually(holds, () => vi.advanceTimersByTime(100));
const settled = (s: DraftStore) => shows(() => expect(s.snapshot().saving).toBe('saved'));

beforeEach(() => {
  plan = planWith([event('e', { name: 'A' })]);
  answers = [];
  received = [];
  asked = 0;
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'], shouldAdvanceTime: true });
  vi.stubGlobal('fetch', (path: string, init?: RequestInit) => {
    asked++;
    return new Promise((answer) => setImmediate(() => answer(serve(path, init))));
  });
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const memory = (): Keeping => {
  const kept = new Map<string, string>();
  return { getItem: (k) => kept.get(k) ?? null, setItem: (k, v) => void kept.set(k, v), removeItem: (k) => void kept.delete(k) };
};

const loaded = async (keeping?: Keeping): Promise<DraftStore> => {
  const store = new DraftStore(new Unsent(keeping));
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
  await eventually(() => expect(store.snapshot().saving).toBe('waiting'));
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
    await shows(() => expect(store.snapshot().conflict?.problem).toMatchObject({ field: 'description', mine: 'mine', theirs: 'theirs' }));
    expect(there()).toBe('theirs');
    store.settle(choice);
    await settled(store);
    await shows(() => expect([here(store), there()]).toEqual([wanted, wanted]));
    plan = planWith([event('e', { name: 'A' })]);
  }
});

test('a change that is refused says why, is taken back here, and cannot be undone', async () => {
  const store = await loaded();
  answers = ['refuse'];
  store.apply([set('one')], 'Description');
  await shows(() => expect(store.snapshot().refusal).toContain('control characters'));
  await settled(store);
  expect([here(store), store.snapshot().canUndo]).toEqual(['', false]);
});

test('a change that is refused after it was undone leaves nothing to take back, and no conflict', async () => {
  const store = await loaded();
  store.apply([set('one')], '1');
  await settled(store);
  answers = ['refuse'];
  store.apply([set('two', 'one')], '2');
  expect(store.undo()).toBe('2');
  await settled(store);
  expect([here(store), there(), store.snapshot().conflict]).toEqual(['one', 'one', undefined]);
  expect([store.snapshot().canUndo, store.snapshot().canRedo]).toEqual([true, false]);
  // The same of an undo that was redone before its refusal came.
  answers = ['refuse'];
  store.undo();
  expect(store.redo()).toBe('1');
  await settled(store);
  expect([here(store), there(), store.snapshot().conflict]).toEqual(['one', 'one', undefined]);
  expect(store.undo()).toBe('1');
  await settled(store);
  expect([here(store), there()]).toEqual(['', '']);
});

test('a fault in what is said of a saved change is reported, and the next change is sent without a pause', async () => {
  const reported: unknown[] = [];
  vi.stubGlobal('reportError', (e: unknown) => void reported.push(e));
  const store = await loaded();
  const states: string[] = [];
  store.subscribe(() => void states.push(store.snapshot().saving));
  store.apply([set('one')], '1', () => {
    throw new Error('in the callback');
  });
  store.apply([set('two', 'one')], '2');
  await settled(store);
  expect(reported).toEqual([new Error('in the callback')]);
  expect([there(), received.length, states.includes('waiting')]).toEqual(['two', 2, false]);
});

test('what was not saved when the page was left is sent by the next one, whether the server had made the first or not', async () => {
  for (const first of ['never', 'left'] as const) {
    const keeping = memory();
    const left = await loaded(keeping);
    answers = [first];
    left.apply([set('one')], '1');
    left.apply([set('two', 'one')], '2');
    left.apply([event('n', { name: 'New' })], '3');
    // The first of them is on its way: the plan was asked for, and this was sent.
    await until('request', () => asked >= 2 && answers.length === 0);
    const next = await loaded(keeping);
    await settled(next);
    expect([here(next), there(), plan.event['n']?.name, next.snapshot().conflict]).toEqual(['two', 'two', 'New', undefined]);
    expect(received.length).toBe(3);
    expect(next.undo()).toBe('3');
    await settled(next);
    expect(plan.event['n']).toBeUndefined();
    // Nothing is left for a third page.
    const third = await loaded(keeping);
    expect([third.snapshot().saving, third.snapshot().canUndo]).toEqual(['saved', false]);
    plan = planWith([event('e', { name: 'A' })]);
    received = [];
  }
});

test('what somebody else changed since the page was left is a conflict, not an overwrite', async () => {
  const keeping = memory();
  const left = await loaded(keeping);
  answers = ['never'];
  left.apply([set('mine')], 'Description');
  plan = planWith([event('e', { name: 'A', description: 'theirs' })]);
  const next = await loaded(keeping);
  await shows(() => expect(next.snapshot().conflict?.problem).toMatchObject({ mine: 'mine', theirs: 'theirs' }));
  expect(there()).toBe('theirs');
});

test('a change whose answer was lost is not made twice, and is no conflict', async () => {
  const store = await loaded();
  answers = ['lost'];
  store.apply([set('one')], 'Description');
  await settled(store);
  expect([here(store), there(), store.snapshot().conflict, received.length]).toEqual(['one', 'one', undefined, 1]);
});

test('what cannot be taken back says so, and does not stand before what can', async () => {
  plan = planWith([event('e', { name: 'A' }), create('userProperty', 'u', { name: 'tier' })]);
  const store = await loaded();
  const register: Edit = { op: 'set', kind: 'userProperty', id: 'u', field: 'registered', before: false, after: true };
  store.apply([set('one')], 'Description');
  store.apply([register], 'Registered');
  await settled(store);
  expect(store.undo()).toBe('Registered');
  expect(store.snapshot().refusal).toContain('“tier” is registered, which cannot be taken back');
  await settled(store);
  expect([there(), plan.userProperty['u']!.registered]).toEqual(['one', true]);
  expect(store.undo()).toBe('Description');
  await settled(store);
  expect([there(), plan.userProperty['u']!.registered, store.snapshot().canUndo]).toEqual(['', true, false]);
});

test('a name that another one has is not tried at all, and it is said which', async () => {
  plan = planWith([event('e', { name: 'A' }), event('f', { name: 'B' })]);
  const store = await loaded();
  const before = asked;
  expect(store.apply([{ op: 'set', kind: 'event', id: 'e', field: 'name', before: 'A', after: 'B' }], 'Name')).toBe(false);
  expect(store.snapshot().refusal).toBe('There is an event “B” already. Choose another name.');
  expect([asked, store.snapshot().canUndo]).toEqual([before, false]);
});
