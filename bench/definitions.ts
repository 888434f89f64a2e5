/** The preview of a definition of five conditions over five million messages in columns, on the path of the request (all that is shown of it, another
 *  definition beside it), while one of the conditions is edited; against the same figures by SQL over narrow, indexed rows in the same run. The
 *  answer first: counts, days, sources, releases, pages, persons, near misses and what it shares with the other definition are the same.
 *  Reported, too: a definition none of whose conditions was looked at before, and 200 definitions worked out anew.
 */
import assert from 'node:assert/strict';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import pg from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import type { Definition } from '../src/core/definitions/definition';
import { withDefinitions } from '../src/core/definitions/defined-events';
import { definitionPreviewOf } from '../src/core/definitions/definition-preview';
import { blank, DEFAULT_SETTINGS } from '../src/core/plan/defaults';
import { emptyPlan, type Plan } from '../src/core/plan/plan';
import { attributedTo } from '../src/core/table/following-persons';
import { MessageTable } from '../src/core/table/message-table';
import { DAY_MS } from '../src/core/time';
import { seeded } from '../src/demo/random';
import { goal, measure, size } from './measure';

const MESSAGES = size(5_000_000, 40_000);
const PERSONS = size(300_000, 3000);
const DAYS = 56;
const NOW = Date.parse('2026-11-23T15:00:00Z');
const LIMIT_MS = 100;
const FLOOR = 20;
const ROUNDS = 7;
const MANY = size(200, 10);
const ZONE = 'Europe/London';

const definitionFrom = (weight: number): Definition => ({
  name: 'Narrow',
  source: { of: 'events', names: ['Page Viewed'] },
  where: {
    match: 'all',
    conditions: [
      { subject: { of: 'page path' }, op: 'starts with', values: ['/tools/'] },
      { subject: { of: 'source' }, op: 'is', values: ['web'] },
      { subject: { of: 'release' }, op: 'is one of', values: ['r5', 'r6', 'r7'] },
      { subject: { of: 'property', name: 'hall' }, op: 'is not', values: ['hall 3'] },
      { subject: { of: 'property', name: 'weight' }, op: 'at least', values: [weight] },
    ],
    groups: [],
  },
  changes: [],
});
const definition = definitionFrom(25);
const PARTS = (weight: number): string[] => [
  "page like '/tools/%'",
  "source = 'web'",
  "release in ('r5', 'r6', 'r7')",
  "hall <> 'hall 3'",
  `weight >= ${weight}`,
];

export const benchDefinitions = async (): Promise<boolean> => {
  const url = process.env['BENCH_DATABASE_URL'];
  assert(url, 'BENCH_DATABASE_URL is not set; run ./signal-post bench');
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await client.query(
    'drop table if exists d; create table d (name text, person int, at timestamptz, source text, release text, page text, hall text, weight float8)',
  );
  const random = seeded(29).next;
  const whole = (n: number): number => Math.floor(random() * n);
  const table = new MessageTable();
  const personOfMessage = new Int32Array(MESSAGES);
  const lines = function* (): Iterable<string> {
    let chunk: string[] = [];
    for (let i = 0; i < MESSAGES; i++) {
      const name = whole(5) < 2 ? 'Page Viewed' : `Crate Moved ${whole(20)}`;
      const person = Math.floor(random() ** 2 * PERSONS);
      const at = NOW - DAYS * DAY_MS + Math.floor((i / MESSAGES) * DAYS * DAY_MS);
      const sourceId = whole(3) < 2 ? 'web' : 'app';
      const release = `r${Math.floor((i / MESSAGES) * 8)}`;
      const page = whole(2) === 0 ? `/tools/T-${whole(300)}` : `/guides/${whole(100)}`;
      const hall = `hall ${whole(12)}`;
      const weight = whole(400) / 4;
      personOfMessage[i] = person;
      table.append({ seq: i + 1, kind: 'event', name, sourceId, release, occurredAt: at, page, ids: {}, properties: { hall, weight } });
      chunk.push(`${name}\t${person}\t${new Date(at).toISOString()}\t${sourceId}\t${release}\t${page}\t${hall}\t${weight}\n`);
      if (chunk.length === 10_000) {
        yield chunk.join('');
        chunk = [];
      }
    }
    yield chunk.join('');
  };
  await pipeline(Readable.from(lines()), client.query(copyFrom('copy d from stdin')));
  await client.query('create index on d (name, at)');
  await client.query('vacuum analyze d');
  console.log(`${MESSAGES.toLocaleString('en-GB')} messages in columns and in PostgreSQL`);

  const people = attributedTo(table, personOfMessage);
  const plan: Plan = {
    ...emptyPlan({ ...DEFAULT_SETTINGS, timeZone: ZONE }),
    definition: { other: blank('definition', { name: 'Other', source: { of: 'events', names: ['Page Viewed'] }, where: { match: 'all', conditions: [{ subject: { of: 'source' }, op: 'is', values: ['app'] }], groups: [] } }) }, // prettier-ignore
  };
  const preview = (d: Definition) => definitionPreviewOf(people, plan, '', 'd', d, NOW);
  const own = preview(definition);
  const grouped = (
    weight: number,
  ): string => `select grouping(day, source, release, page) as g, coalesce(day::text, source, release, page) as k, count(*)::int as n, count(distinct person)::int as persons
    from (select *, (at at time zone '${ZONE}')::date as day from d where name = 'Page Viewed' and ${PARTS(weight).join(' and ')}) x group by grouping sets ((day), (source), (release), (page), ())`;
  /** What is shown besides: of the whole source, of what one part alone keeps out, and of what the other definition takes as well. */
  const besides = (weight: number): string => {
    const parts = PARTS(weight);
    const misses = parts.map(
      (p, i) => `count(*) filter (where not (${p}) and ${parts.filter((_, k) => k !== i).join(' and ')})::int as miss${i}`,
    );
    return `select count(*)::int as offered, count(distinct person)::int as persons, ${misses.join(', ')}, count(*) filter (where source = 'app' and ${parts.join(' and ')})::int as shared from d where name = 'Page Viewed'`;
  };
  const rows = (await client.query<{ g: number; k: string | null; n: number; persons: number }>(grouped(25))).rows;
  const of = (g: number): Map<string, number> => new Map(rows.filter((r) => r.g === g).map((r) => [r.k ?? '', r.n]));
  const total = rows.find((r) => r.g === 15)!;
  assert.deepEqual([own.messages, own.persons], [total.n, total.persons]);
  assert.deepEqual(
    own.days.filter((d) => d.messages > 0).map((d) => d.messages),
    [...of(7)].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, n]) => n),
  );
  assert.deepEqual(new Map(own.bySource.map((s) => [s.value, s.messages])), of(11));
  assert.deepEqual(new Map(own.byRelease.map((s) => [s.value, s.messages])), of(13));
  for (const p of own.byPage) assert.equal(of(14).get(p.value), p.messages);

  const beside = (await client.query<Record<string, number>>(besides(25))).rows[0]!;
  assert.deepEqual([own.ofSource, own.personsOfSource], [beside['offered'], beside['persons']]);
  assert.deepEqual(
    PARTS(25).map((_, i) => own.nearMisses.find((m) => m.part === i)?.messages ?? 0),
    PARTS(25).map((_, i) => beside[`miss${i}`]),
  );
  assert.equal(own.shared[0]?.both ?? 0, beside['shared']);

  let weight = 26;
  const t = await measure(
    [
      { name: 'columns', run: () => void preview(definitionFrom((weight += 0.5))) },
      {
        name: 'sql',
        run: async () => {
          await client.query(grouped(weight));
          await client.query(besides(weight));
        },
      },
    ],
    ROUNDS,
  );
  const ms = t.get('columns')!;
  let met = goal(`preview of ${own.messages.toLocaleString('en-GB')} of ${own.ofSource.toLocaleString('en-GB')} messages, ms under ${LIMIT_MS} (${ms.toFixed(0)} ms)`, LIMIT_MS / ms, 1); // prettier-ignore
  met = goal(`preview, times as fast as SQL (${t.get('sql')!.toFixed(0)} ms)`, t.get('sql')! / ms, FLOOR) && met;

  const many: Plan = {
    ...plan,
    definition: Object.fromEntries(
      Array.from({ length: MANY }, (_, i) => [
        `d${i}`,
        blank('definition', { ...definition, name: `Narrow ${i}`, where: { ...definition.where, conditions: [...definition.where.conditions.slice(0, 4), { subject: { of: 'property', name: 'weight' }, op: 'at least', values: [i / 2] }] } }), // prettier-ignore
      ]),
    ),
  };
  let began = performance.now();
  const fresh = preview({ ...definition, source: { of: 'events', names: ['Page Viewed', 'Crate Moved 1'] } });
  assert(fresh.messages > own.messages);
  console.log(`        the first preview over two events: ${(performance.now() - began).toFixed(0)} ms`);
  began = performance.now();
  const seen = withDefinitions(table, many);
  let taken = 0;
  for (let i = 0; i < MANY; i++) taken += seen.rowsOf(`Narrow ${i}`).length;
  assert(taken > 0);
  console.log(`        ${MANY} definitions worked out anew: ${((performance.now() - began) / MANY).toFixed(1)} ms each`);
  await client.query('drop table d');
  await client.end();
  return met;
};
