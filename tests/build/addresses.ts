/** Every address of the application that can be opened, for the workspace that a server holds: pages, answers of endpoints, downloads. */
import { ENDPOINTS } from '../../src/core/api/index';
import type { Endpoint } from '../../src/core/api/endpoint';
import { FORMATS } from '../../src/core/formats/plan/index';
import { itemOf } from '../../src/core/place-item';
import { entries, type Plan } from '../../src/core/plan/plan';
import { HAND_OFF_VIEWS } from '../../src/islands/hand-off/views';
import { VIEWS as ARRIVALS } from '../../src/islands/arrivals/views';
import { PLAN_GROUPS } from '../../src/islands/plan/views';

export interface Seen {
  readonly plan: Plan;
  /** Keys of findings, names of events, and identifiers that arrived. */
  readonly findings: readonly string[];
  readonly arrived: readonly string[];
  readonly identifiers: readonly { readonly kind: string; readonly value: string }[];
}

const json = async <T>(base: string, path: string): Promise<T> => {
  const r = await fetch(base + path);
  if (!r.ok) throw new Error(`${path}: ${r.status} ${await r.text()}`);
  return (await r.json()) as T;
};

/** What a server holds, as far as addresses name it. */
export const seenAt = async (base: string): Promise<Seen> => {
  const { plan } = await json<{ plan: Plan }>(base, '/api/workplace');
  const { groups } = await json<{ groups: { key: string }[] }>(base, '/api/findings');
  const newest = await json<{ body: { name?: string; ids?: Record<string, unknown> } }[]>(base, '/api/messages?limit=30');
  return {
    plan,
    findings: groups.map((g) => g.key),
    arrived: [...new Set(newest.flatMap((m) => (m.body.name ? [m.body.name] : [])))],
    identifiers: newest
      .flatMap((m) => Object.entries(m.body.ids ?? {}).map(([kind, value]) => ({ kind, value: String(value) })))
      .slice(0, 4),
  };
};

const at = (station: string, ...parts: readonly string[]): string =>
  parts.length === 0 ? `/${station}` : `/${station}?item=${encodeURIComponent(itemOf(...(parts as [string, ...string[]])))}`;

/** Pages: stations with every view and sheet, each entity opened, readers' pages, stand-ins, references. */
export const pagesOf = ({ plan, findings, arrived, identifiers }: Seen): string[] => [
  '/',
  ...['questions', 'plan', 'identity', 'hand-off', 'arrivals', 'clearance', 'no-such-station'].map((s) => at(s)),
  at('questions', 'coverage'),
  ...entries(plan, 'question').flatMap(([id]) => [at('questions', id), at('clearance', id), `/answers/${encodeURIComponent(id)}`]),
  ...PLAN_GROUPS.flatMap((g) => g.entries.map((e) => at('plan', e.id))),
  ...(['event', 'property', 'userProperty', 'sharedSet', 'definition', 'source', 'identifierKind'] as const).flatMap(
    (kind) =>
    Object.keys(plan[kind]).slice(0, 3).flatMap((id) => [at('plan', kind, id), at('plan', 'open', kind, id)]), // prettier-ignore
  ),
  ...['bench', 'health', 'situations', 'person', 'what-if'].map((v) => at('identity', v)),
  ...identifiers.flatMap(({ kind, value }) => [at('identity', 'person', kind, value), at('arrivals', 'logbook', kind, value)]),
  ...HAND_OFF_VIEWS.map((v) => at('hand-off', 'view', v.id)),
  ...entries(plan, 'event').slice(0, 6).map(([id]) => at('hand-off', id)), // prettier-ignore
  ...Object.keys(plan.source).map((id) => at('hand-off', 'source', id)),
  ...ARRIVALS.map((v) => at('arrivals', v.id)),
  ...findings.slice(0, 6).map((key) => at('arrivals', 'finding', key)),
  ...arrived.slice(0, 4).flatMap((name) => [at('arrivals', 'profile', name), at('arrivals', 'volume', name), at('arrivals', 'pairs', name)]), // prettier-ignore
  at('clearance', 'alerts'),
  '/answers',
  '/answers/glossary',
  '/answers/no-such-question',
  '/reference',
  '/api',
  ...['web', 'phone', 'kiosk', 'backend', 'mailbox', 'receiver'].map((s) => `/stand-ins/${s}`),
];

const FILES = ['signal-post-sender.js', 'signal-post-sender.d.ts', 'signal-post-sender.tgz', 'signal-post-sender.cjs', 'signal-post-page.js', 'signal-post-page.d.ts', 'signal-post-testing.js', 'signal-post-script.js', 'signal-post-stub.js', 'signal-post-checker.js', 'signal-post-check.mjs', 'signal-post-check.tgz']; // prettier-ignore

/** Values for each part of a query, from what is there and from what is not. */
const valuesOf = ({ plan, findings, arrived, identifiers }: Seen): Readonly<Record<string, readonly string[]>> => {
  const events = [...entries(plan, 'event').map(([, e]) => e.name), ...arrived];
  const now = new Date();
  return {
    event: [...events.slice(0, 3), 'no such event'],
    source: [...Object.keys(plan.source).slice(0, 2), 'no-such-source'],
    question: [...Object.keys(plan.question).slice(0, 3), 'no-such-question'],
    kind: [...identifiers.map((i) => i.kind).slice(0, 2), 'no kind'],
    value: [...identifiers.map((i) => i.value).slice(0, 2), 'no value'],
    like: ['a', '%'],
    key: [...findings.slice(0, 3), 'no such finding'],
    since: ['0', String(now.getTime() - 7 * 86_400_000), now.toISOString()],
    at: [now.toISOString(), '2000-01-01T00:00:00Z'],
    number: ['1', '2', '999'],
    version: ['1', '999'],
    seq: ['1', '999999999'],
    days: ['1', '56'],
    limit: ['1', '30'],
    language: ['python', 'go', 'java', 'kotlin', 'swift', 'csharp'],
    format: [...FORMATS.map((f) => f.id), 'ndjson', 'markdown', 'html', 'json', 'no such format'],
    id: ['no-such-id', '6f8a0663-b5c3-49be-bf51-c23978bc287b'],
    from: ['1', '0'],
    to: ['1', '2'],
    after: ['0'],
    before: ['1'],
    traffic: ['*', '*.marked', 'staging', 'no such environment'],
    rules: ['draft', 'published'],
  };
};

/** Addresses of an endpoint: with every part of its query left out, and with each value of each part, the others at their first. */
const askedOf = (e: Endpoint, values: ReturnType<typeof valuesOf>): string[] => {
  const shape = (e.query as unknown as { readonly shape?: Readonly<Record<string, unknown>> }).shape ?? {};
  const parts = [...Object.keys(shape), ...e.lens];
  const first = Object.fromEntries(parts.map((p) => [p, values[p]?.[0] ?? 'x']));
  const chosen = [{}, first, ...parts.flatMap((p) => (values[p] ?? ['x', '']).map((v) => ({ ...first, [p]: v })))] as Readonly<Record<string, string>>[]; // prettier-ignore
  const made = chosen.map((c) => {
    let { path } = e as { path: string };
    const query = new URLSearchParams();
    for (const [name, value] of Object.entries(c))
      if (path.includes(`{${name}}`)) path = path.replace(`{${name}}`, encodeURIComponent(value));
      else query.set(name, value);
    path = path.replace(/\{(\w+)\}/g, (_, name: string) => encodeURIComponent(values[name]?.[0] ?? 'x'));
    return query.size === 0 ? path : `${path}?${query.toString()}`;
  });
  return [...new Set(made)];
};

/** Everything that is asked for without changing anything; streams that never end are left out. */
export const answersOf = (seen: Seen): string[] => {
  const values = valuesOf(seen);
  return [
    ...ENDPOINTS.filter((e: Endpoint) => e.method === 'GET' && e.content !== 'text/event-stream').flatMap((e) => askedOf(e, values)),
    ...FILES.map((f) => `/downloads/${f}`),
    '/favicon.svg',
    '/no-such-page',
    '/api/no-such-endpoint',
  ];
};
