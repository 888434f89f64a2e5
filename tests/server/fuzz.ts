/** Requests drawn at random from a seed: all endpoints with all methods, parameters and bodies of every kind, and messages to the intake. */
import { gzipSync } from 'node:zlib';
import { ENDPOINTS as CONTRACTS } from '../../src/core/api/index';
import { seeded, type Rng } from '../../src/demo/random';

/** Where to, and with which methods there is something. */
const ENDPOINTS = [
  ...[...new Set(CONTRACTS.map((e) => e.path))].map((path) => ({
    path: path.replace('{event}', 'posted'),
    methods: CONTRACTS.filter((e) => e.path === path).map((e): string => e.method),
  })),
  { path: '/intake', methods: ['OPTIONS'] },
  { path: '/questions', methods: ['GET'] },
  { path: '/stand-ins/web', methods: ['GET'] },
].filter(({ path }) => path !== '/api/live');
const METHODS = ['GET', 'POST', 'PUT', 'DELETE', 'OPTIONS', 'HEAD'];
/** So often a method is one that there is. */
const RIGHT_METHOD = 0.9;
const PARAMETERS = [
  'seq', 'limit', 'kind', 'value', 'like', 'event', 'source', 'since', 'days', 'traffic', 'rules', 'number', 'version', 'before', 'at', 'id', 'key', 'base', 'format', 'after', 'until',
]; // prettier-ignore
const WORDS = [
  '', '0', '-1', '1e308', 'NaN', '9007199254740993', 'null', 'undefined', '__proto__', 'constructor', '%00', '\ud800', '{}', '[]', 'a'.repeat(3000), 'Parcel Posted', 'posted', 'visitor',
  'v-1', 'shop', 'draft', '2026-01-01T00:00:00Z', '0001-01-01', '9999-12-31T23:59:59Z', "' or 1=1 --", '../../etc/passwd', '<script>', '{"environment":"x"}', '😀',
]; // prettier-ignore
const FIELDS = [
  'id', 'name', 'time', 'ids', 'properties', 'kind', 'edits', 'op', 'body', 'field', 'before', 'after', 'label', 'author', 'note', 'formula', 'type', 'events', 'eventName', 'where',
  'period', 'steps', 'overDays', 'windowMs', 'sourceId', 'texts', 'text', 'identity', 'links', 'end', 'hours', 'key', 'messages', 'proposal', 'revisions', 'day', 'mode', 'event', 'property',
  '__proto__', 'constructor', 'toString',
]; // prettier-ignore

const value = (r: Rng, depth = 0): unknown => {
  const n = r.int(0, depth > 4 ? 5 : 8);
  if (n <= 2) return r.pick(WORDS);
  if (n === 3) return r.pick([0, -1, 1, 0.5, 1e308, -1e308, 2 ** 53, 1e15]);
  if (n === 4) return r.next() < 0.5;
  if (n === 5) return null;
  if (n === 6) return Array.from({ length: r.int(0, 4) }, () => value(r, depth + 1));
  return Object.fromEntries(Array.from({ length: r.int(0, 6) }, () => [r.pick(FIELDS), value(r, depth + 1)]));
};

/** Bodies that are nearly right go further in than those that are not. */
const nearly = (r: Rng, path: string): unknown => {
  const id = r.pick(['posted', 'code', 'shop', 'desk', r.pick(WORDS)]);
  if (path === '/intake') return Array.from({ length: r.int(1, 5) }, () => ({ id: `f-${r.hex(6)}`, name: r.pick(['Parcel Posted', r.pick(WORDS)]), time: r.pick(['2026-11-01T00:00:00Z', r.pick(WORDS)]), ids: { visitor: r.pick(WORDS) }, properties: value(r) })); // prettier-ignore
  if (path === '/api/edits')
    return { edits: [{ op: r.pick(['set', 'create', 'remove']), kind: r.pick(['event', 'property', 'source', 'settings', 'question']), id, field: r.pick(['name', 'description', 'pattern', 'trigger', 'min', r.pick(WORDS)]), before: value(r), after: value(r), body: value(r) }], label: 'x', author: 'y' }; // prettier-ignore
  if (path === '/api/figure')
    return { formula: { type: r.pick(['active persons', 'conversion', 'retention', 'top values', r.pick(WORDS)]), events: [{ eventName: 'Parcel Posted', where: [] }], steps: [{ eventName: 'Parcel Posted', where: [] }, { eventName: r.pick(WORDS), where: [] }], period: r.pick(['day', 'week', 'year']), windowMs: r.pick([1, 1e15, -1]), overDays: r.pick([1, 28, 1e9]) } }; // prettier-ignore
  return value(r);
};

export interface Fuzzed {
  readonly requests: number;
  readonly byStatus: Readonly<Record<number, number>>;
  /** What was answered with 500 and above, as it can be sent again. */
  readonly failed: readonly {
    readonly status: number;
    readonly method: string;
    readonly path: string;
    readonly body: string;
    readonly answer: string;
  }[];
}

/** Sends so many, eight at a time. */
export const fuzz = async (
  base: string,
  key: string,
  count: number,
  seed: number,
  onProgress: (done: number) => void = () => undefined,
): Promise<Fuzzed> => {
  const r = seeded(seed);
  const byStatus: Record<number, number> = {};
  const failed: Fuzzed['failed'][number][] = [];
  let [sent, done] = [0, 0];
  const one = async (): Promise<void> => {
    const { path, methods } = r.pick(ENDPOINTS);
    const method = r.pick(r.next() < RIGHT_METHOD ? methods : METHODS);
    const query = Array.from(
      { length: r.int(0, 3) },
      () => `${r.pick(PARAMETERS)}=${encodeURIComponent(r.pick(WORDS).toWellFormed())}`,
    ).join('&');
    const how = r.int(0, 9);
    const text = how < 5 ? JSON.stringify(nearly(r, path)) : how < 8 ? JSON.stringify(value(r)) : how === 8 ? r.pick(WORDS) : '{"half":';
    const packed = r.next() < 0.1;
    const headers: Record<string, string> = {
      'content-type': r.pick([
        'application/json',
        'application/json',
        'text/plain',
        'application/x-ndjson',
        'application/cloudevents+json',
        'multipart/form-data',
      ]),
      ...(path === '/intake' || path === '/api/backfill' ? { authorization: `Bearer ${key}` } : {}),
      ...(packed ? { 'content-encoding': 'gzip' } : {}),
      ...(r.next() < 0.05 ? { origin: r.pick(['garbage', 'null', 'https://evil.example', '']) } : {}),
    };
    const body = method === 'GET' || method === 'HEAD' ? undefined : packed ? new Uint8Array(gzipSync(text)) : text;
    const response = await fetch(`${base}${path}${query ? `?${query}` : ''}`, { method, headers, ...(body === undefined ? {} : { body }) });
    const answer = await response.text();
    byStatus[response.status] = (byStatus[response.status] ?? 0) + 1;
    if (response.status >= 500)
      failed.push({ status: response.status, method, path: `${path}?${query}`, body: text.slice(0, 500), answer: answer.slice(0, 300) });
  };
  await Promise.all(
    Array.from({ length: 8 }, async () => {
      while (sent < count) {
        sent++;
        await one();
        if (++done % 5000 === 0) onProgress(done);
      }
    }),
  );
  return { requests: sent, byStatus, failed };
};
