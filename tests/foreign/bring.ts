/** A foreign workspace brought into a server that runs with an empty one: its plan by edits, published, and its messages as a history. */
import { isDeepStrictEqual } from 'node:util';
import type { Edit } from '../../src/core/plan/edit';
import { settingsOf, type Kind, type Plan } from '../../src/core/plan/plan';
import type { Foreign } from './workspace';

const BATCH = 2000;
/** In an order in which each refers to what is there. */
const KINDS: readonly Kind[] = ['identifierKind', 'source', 'property', 'userProperty', 'event'];

export const post = (url: string, path: string, body: unknown): Promise<Response> =>
  fetch(url + path, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });

const ok = async <T>(r: Promise<Response>): Promise<T> => {
  const answer = await r;
  if (!answer.ok) throw new Error(`${answer.url}: ${answer.status} ${await answer.text()}`);
  return (await answer.json()) as T;
};

/** The same workspace as if its last message had come just now, so that a server's clock fits. */
export const asOfNow = (w: Foreign): Foreign => {
  const shift = Date.now() - 60_000 - w.now;
  const messages = w.messages.map((m) => ({
    ...m,
    receivedAt: m.receivedAt + shift,
    value: { ...m.value, time: new Date(Date.parse(m.value.time) + shift).toISOString() },
  }));
  return { ...w, messages, now: w.now + shift, from: w.from + shift, newSince: w.newSince + shift };
};

/** What a plan is made by, over one that has nothing but settings. */
const editsOf = (plan: Plan, start: Plan): Edit[] => {
  const [id] = Object.keys(start.settings) as [string];
  const [before, after] = [settingsOf(start), settingsOf(plan)] as unknown as Record<string, unknown>[];
  const settings = Object.keys(after!)
    .filter((field) => !isDeepStrictEqual(before![field], after![field]))
    .map((field) => ({ op: 'set', kind: 'settings', id, field, before: before![field], after: after![field] }));
  const made = KINDS.flatMap((kind) =>
    Object.entries(plan[kind]).flatMap(([entity, body]) => (start[kind][entity] ? [] : [{ op: 'create', kind, id: entity, body }])),
  );
  return [...settings, ...made] as Edit[];
};

/** Brings it in; how many messages were taken. */
export const bringIn = async (url: string, w: Foreign): Promise<number> => {
  const { plan } = await ok<{ plan: Plan }>(fetch(`${url}/api/workplace`));
  await ok(post(url, '/api/edits', { edits: editsOf(w.plan, plan), label: 'A workspace', author: 'Ines' }));
  await ok(post(url, '/api/publish', { note: 'first' }));
  let taken = 0;
  for (const sourceId of Object.keys(w.plan.source)) {
    const { key } = await ok<{ key: string }>(post(url, '/api/keys', { sourceId, label: 'a history', hours: 1 }));
    const headers = { 'content-type': 'application/json', authorization: `Bearer ${key}` };
    const texts = w.messages.filter((m) => m.sourceId === sourceId).map((m) => JSON.stringify(m.value));
    for (let i = 0; i < texts.length; i += BATCH) {
      const answer = await ok<{ accepted: number; rejected: unknown[] }>(
        fetch(`${url}/api/backfill`, { method: 'POST', headers, body: JSON.stringify({ texts: texts.slice(i, i + BATCH) }) }),
      );
      if (answer.rejected.length > 0) throw new Error(JSON.stringify(answer.rejected.slice(0, 2)));
      taken += answer.accepted;
    }
  }
  return taken;
};
