/** Whatever comes in which order, an analysis that lived through it shows what one shows that was started afterwards and computed all from nothing. */
import { afterAll, beforeAll, expect, test } from 'vitest';
import { seeded, type Rng } from '../../src/demo/random';
import type { Plan } from '../../src/core/plan/plan';
import { create } from '../build/plan';
import { testDatabase } from '../build/database';
import { endProcess, startProcess, type Running } from '../build/server';
import { smallWorkspace } from '../build/workspace';
import { draws } from '../build/draws';

const VIEWS = [
  'findings', 'clearance', 'counts?days=28', 'identity', 'identity?rules=draft', 'identity-health', 'matrix', 'seen', 'arrived', 'traffic', 'profile', 'profile?event=Parcel+Posted', 'volume',
  'reconciliation', 'user-properties', 'situations', 'follow-ups', 'identifiers?like=v', 'logbook?kind=visitor&value=v-3', 'person?kind=visitor&value=v-3', 'findings?traffic=*.marked',
]; // prettier-ignore

/** Without what says when it was worked out. */
const still = (body: unknown): unknown =>
  JSON.parse(JSON.stringify(body, (k, v: unknown) => (k === 'manyAt' || k === 'now' ? undefined : v)));

let url: string;
let living: Running;
let key: string;

const post = async (at: Running, path: string, body: unknown): Promise<{ status: number; body: unknown }> => {
  const r = await fetch(at.url + path, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });
  const text = await r.text();
  return { status: r.status, body: JSON.parse(text.trim().split('\n').at(-1)!) as unknown };
};
const get = async (at: Running, path: string): Promise<unknown> => (await fetch(`${at.url}/api/${path}`)).json();

const figure = (r: Rng) => ({
  formula: r.pick([
    { type: 'active persons', events: [{ eventName: 'Parcel Posted', where: [] }], period: r.pick(['day', 'week', 'month']) },
    {
      type: 'top values',
      event: { eventName: 'Parcel Posted', where: [] },
      property: 'code',
      measure: r.pick(['messages', 'persons']),
      overDays: 28,
    },
  ]),
});

let n = 0;
const parcels = (r: Rng): object[] =>
  Array.from({ length: r.int(1, 40) }, () => {
    n++;
    const visitor = r.int(0, 30);
    return {
      id: r.next() < 0.1 ? `l-${r.int(0, n)}` : `l-${n}`,
      name: r.pick(['Parcel Posted', 'Parcel Posted', 'Parcel Sent', 'Posted']),
      time: new Date(Date.now() - r.int(0, 40) * 86_400_000 - r.int(0, 80_000) * 1000).toISOString(),
      ids: { visitor: `v-${visitor}`, ...(r.next() < 0.3 ? { member: `m-${r.next() < 0.9 ? visitor % 13 : r.int(0, 12)}` } : {}) },
      properties: { code: r.pick(['a', 'b', 7, null, ['x']]), ...(r.next() < 0.2 ? { weight: r.int(1, 9) } : {}) },
      release: r.pick(['1', '2']),
      ...(r.next() < 0.1 ? { marks: ['test'] } : {}),
    };
  });

const send = (r: Rng): Promise<Response> =>
  fetch(`${living.url}/intake`, {
    method: 'POST',
    headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' },
    body: JSON.stringify(parcels(r)),
  });

const plan = async (): Promise<Plan> => ((await get(living, 'workplace')) as { plan: Plan }).plan;
const set = async (kind: string, id: string, field: string, before: unknown, after: unknown): Promise<number> =>
  (await post(living, '/api/edits', { edits: [{ op: 'set', kind, id, field, before, after }], label: field, author: 'Ines' })).status;

const steps: Record<string, (r: Rng) => Promise<unknown>> = {
  send,
  'send more': send,
  'send most': send,
  ask: (r) => get(living, r.pick(VIEWS)),
  'ask two': (r) => Promise.all([get(living, r.pick(VIEWS)), get(living, r.pick(VIEWS)), send(r)]),
  figure: (r) => post(living, '/api/figure', figure(r)),
  publish: () => post(living, '/api/publish', { note: 'next' }),
  rename: async (r) => {
    const { name, formerNames } = (await plan()).event['posted']!;
    const next = r.pick(['Parcel Posted', 'Parcel Sent']);
    expect(await set('event', 'posted', 'formerNames', formerNames, next === 'Parcel Posted' ? ['Posted'] : ['Parcel Posted'])).toBe(200);
    if (next !== name) expect(await set('event', 'posted', 'name', name, next)).toBe(200);
  },
  rules: async (r) => {
    const { identity } = Object.values((await plan()).settings)[0]!;
    const next = { ...identity, linking: r.next() < 0.8, maxUserIds: r.int(0, 3), sharedDeviceUsers: r.int(0, 3) };
    expect(await set('settings', Object.keys((await plan()).settings)[0]!, 'identity', identity, next)).toBe(200);
  },
  require: async (r) => {
    const { properties } = (await plan()).event['posted']!;
    const next = properties.map((p) => ({ ...p, required: r.next() < 0.5 }));
    expect(await set('event', 'posted', 'properties', properties, next)).toBe(200);
  },
};

beforeAll(async () => {
  url = await testDatabase('living_thread_test', 'empty');
  living = await startProcess(url);
  key = await smallWorkspace(living.url);
  const question = create('question', 'q', {
    text: 'How many post parcels?',
    formula: { type: 'active persons', events: [{ eventName: 'Parcel Posted', where: [] }], period: 'day' },
  });
  await post(living, '/api/edits', { edits: [question], label: 'A question', author: 'Ines' });
});
afterAll(() => endProcess(living, 'SIGTERM'));

test.each([1, 2, 3].slice(0, draws(1, 3)))('arrivals, publishes, rules and questions at random, seed %i', async (seed) => {
  const r = seeded(seed);
  for (let i = 0; i < 40; i++) await steps[r.pick(Object.keys(steps))]!(r);
  // All is judged by the newest version, and looked at.
  await expect.poll(async () => ((await get(living, 'workplace')) as { recheck: unknown }).recheck).toBeNull();
  const anew = await startProcess(url, [], { SIGNAL_POST_ROLES: 'web,analysis' });
  try {
    for (const view of VIEWS) {
      const both = async () => {
        const [a, b] = await Promise.all([get(living, view), get(anew, view)]);
        return { living: still(a), anew: still(b) };
      };
      // A check over many may look again between the two.
      await expect
        .poll(async () => JSON.stringify((await both()).living) === JSON.stringify((await both()).anew))
        .toBe(true)
        .catch(async () => {
          const { living: a, anew: b } = await both();
          expect({ view, answer: a }).toEqual({ view, answer: b });
        });
    }
    for (let i = 0; i < 4; i++) {
      const asked = figure(r);
      const [a, b] = await Promise.all([post(living, '/api/figure', asked), post(anew, '/api/figure', asked)]);
      expect([a.status, JSON.stringify(a.body)]).toEqual([200, expect.stringContaining('answer')]);
      expect(still(a)).toEqual(still(b));
    }
    expect(((await get(anew, 'findings')) as { received: number }).received).toBeGreaterThan(50);
  } finally {
    await endProcess(anew, 'SIGTERM');
  }
});
